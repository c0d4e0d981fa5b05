using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace Tanksophos.Data;

/// <summary>Somebody who belongs to a rig.</summary>
/// <param name="PersonId">The person.</param>
/// <param name="Name">The name of the account.</param>
/// <param name="Role">What the person may do.</param>
/// <param name="Since">Since when.</param>
public sealed record Member(int PersonId, string Name, Role Role, Instant Since);

/// <summary>An open invitation.</summary>
/// <param name="Id">Number.</param>
/// <param name="Role">What the invited person will be.</param>
/// <param name="ExpiresAt">From when on it no longer works.</param>
public sealed record Invitation(int Id, Role Role, Instant ExpiresAt);

/// <summary>A token by which another program reads or logs for one rig.</summary>
/// <param name="Id">Number.</param>
/// <param name="Name">What its owner calls it.</param>
/// <param name="Scopes">What it is good for.</param>
/// <param name="LastUsedAt">When it was last used, to the hour; null for never.</param>
public sealed record ApiToken(int Id, string Name, TokenScopes Scopes, Instant? LastUsedAt);

/// <summary>What a token that came with a request is good for.</summary>
/// <param name="Id">Number.</param>
/// <param name="RigId">The rig.</param>
/// <param name="Name">What its owner calls it.</param>
/// <param name="Scopes">What it is good for.</param>
public sealed record GoodToken(int Id, int RigId, string Name, TokenScopes Scopes);

/// <summary>A device on which a person is signed in.</summary>
/// <param name="Id">A name for it that tells nothing of its secret.</param>
/// <param name="Device">What its browser says it is; empty if that is not known.</param>
/// <param name="Since">Since when.</param>
/// <param name="SeenAt">When it was last seen, to the hour; null if that is not known.</param>
/// <param name="Here">Whether it is the one that asks.</param>
public sealed record SignInPlace(string Id, string Device, Instant Since, Instant? SeenAt, bool Here);

/// <summary>A link that shows a sheet for a limited time.</summary>
/// <param name="Id">Number.</param>
/// <param name="Name">Whom it is for.</param>
/// <param name="ExpiresAt">From when on it no longer works.</param>
/// <param name="OpenedAt">When it was last opened; null for never.</param>
public sealed record ShareLink(int Id, string Name, Instant ExpiresAt, Instant? OpenedAt);

/// <summary>How joining with an invitation went.</summary>
public enum Joining
{
    /// <summary>The person belongs to the rig now, or did already.</summary>
    Done,

    /// <summary>There is no such invitation, or it was used, taken back or has run out.</summary>
    NoLongerGood,
}

/// <summary>Who belongs to which rig, invitations and tokens.</summary>
/// <param name="context">The database.</param>
/// <param name="clock">The time.</param>
public sealed class PeopleStore(TanksophosContext context, IClock clock)
{
    /// <summary>How long an invitation works.</summary>
    public static readonly Duration InvitationLasts = Duration.FromDays(7);

    /// <summary>Whether anybody has an account yet.</summary>
    public bool AnyPeople => context.Users.Any();

    /// <summary>What a person may do with a rig now; null if the person does not belong to it.</summary>
    public Role? RoleIn(int rigId, int personId) => context.Memberships.AsNoTracking().Where(m => m.RigId == rigId && m.PersonId == personId)
        .Select(m => (Role?)m.Role).FirstOrDefault();

    /// <summary>Longest description of a device in characters.</summary>
    public const int LongestDevice = 80;

    /// <summary>Notes that a person is signed in on a device.</summary>
    /// <param name="personId">The person.</param>
    /// <param name="device">What its browser says it is, in a few words.</param>
    /// <returns>The secret for the device's cookie; it is not kept, only its hash is.</returns>
    public string SignIn(int personId, string device)
    {
        ArgumentNullException.ThrowIfNull(device);
        var secret = NewSecret();
        var now = clock.GetCurrentInstant();
        context.SignIns.Add(new SignInRow
        {
            Hash = HashOf(secret),
            PersonId = personId,
            Since = now,
            SeenAt = now,
            Device = device.Length > LongestDevice ? device[..LongestDevice] : device,
        });
        context.SaveChanges();
        context.ChangeTracker.Clear();
        return secret;
    }

    /// <summary>Where a person is signed in, the last seen first.</summary>
    /// <param name="personId">The person.</param>
    /// <param name="secret">The secret of the device that asks.</param>
    public IReadOnlyList<SignInPlace> SignInsOf(int personId, string? secret)
    {
        var here = secret is null ? "" : HashOf(secret);
        return [.. context.SignIns.AsNoTracking().Where(s => s.PersonId == personId).ToList().OrderByDescending(s => s.Hash == here)
            .ThenByDescending(s => s.SeenAt ?? s.Since).Select(s => new SignInPlace(HashOf(s.Hash)[..16], s.Device, s.Since, s.SeenAt, s.Hash == here))];
    }

    /// <summary>Ends a sign-in on another device.</summary>
    /// <returns>False if the person is not signed in there.</returns>
    public bool EndSignIn(int personId, string? id)
    {
        var hash = context.SignIns.AsNoTracking().Where(s => s.PersonId == personId).Select(s => s.Hash).AsEnumerable().FirstOrDefault(h =>
            HashOf(h)[..16] == id);
        return hash is not null && context.SignIns.Where(s => s.Hash == hash).ExecuteDelete() == 1;
    }

    /// <summary>The rigs that would be left without an owner if a person went, and whether anybody else belongs to each.</summary>
    public IReadOnlyList<(int RigId, string Name, bool Others)> OwnedAlone(int personId) =>
        [.. (from m in context.Memberships where m.PersonId == personId && m.Role == Role.Owner
             where !context.Memberships.Any(o => o.RigId == m.RigId && o.PersonId != personId && o.Role == Role.Owner)
             join r in context.Rigs on m.RigId equals r.Id
             orderby r.Name
             select new { r.Id, r.Name, Others = context.Memberships.Any(o => o.RigId == r.Id && o.PersonId != personId) })
            .AsEnumerable().Select(r => (r.Id, r.Name, r.Others))];

    /// <summary>Whether somebody else keeps the installation.</summary>
    public bool AnotherKeeper(int personId) => context.Users.Any(p => p.IsKeeper && p.Id != personId);

    /// <summary>How many accounts there are.</summary>
    public int Count => context.Users.Count();

    /// <summary>Hands the keeping of the installation on, if nobody else has it: to who owns a rig, the oldest account first.</summary>
    public void KeepByAnother(int personId)
    {
        if (AnotherKeeper(personId)) return;
        var next = context.Users.Where(p => p.Id != personId).OrderByDescending(p => context.Memberships.Any(m => m.PersonId == p.Id && m.Role == Role.Owner))
            .ThenBy(p => p.Id).FirstOrDefault();
        if (next is null) return;
        next.IsKeeper = true;
        context.SaveChanges();
    }

    /// <summary>Hands a rig over: another person owns it then, and the one who did is crew.</summary>
    /// <returns>False if either does not belong to it, or the first does not own it.</returns>
    public bool HandOver(int rigId, int from, int to)
    {
        using var transaction = context.Database.BeginTransaction();
        if (from == to || context.Memberships.Find(rigId, from) is not { Role: Role.Owner } owner
            || context.Memberships.Find(rigId, to) is not { } next) return false;
        (next.Role, owner.Role) = (Role.Owner, Role.Crew);
        context.SaveChanges();
        transaction.Commit();
        return true;
    }

    /// <summary>Who is signed in by a cookie's secret; null for nobody.</summary>
    public Person? SignedIn(string? secret)
    {
        if (string.IsNullOrEmpty(secret) || secret.Length > 200) return null;
        var hash = HashOf(secret);
        return context.SignIns.AsNoTracking().Where(s => s.Hash == hash).Join(context.Users, s => s.PersonId, p => p.Id, (s, p) => p).FirstOrDefault();
    }

    /// <summary>The name of a sign-in, as in <see cref="SignInPlace.Id"/>.</summary>
    public static string PlaceOf(string secret) => HashOf(HashOf(secret))[..16];

    /// <summary>Remembers, to the hour, that a device was seen. Only what writes anyway does so: looking writes nothing.</summary>
    public void Seen(string secret)
    {
        var hash = HashOf(secret);
        var now = clock.GetCurrentInstant();
        var before = now - Duration.FromHours(1);
        context.SignIns.Where(s => s.Hash == hash && (s.SeenAt == null || s.SeenAt < before)).ExecuteUpdate(u => u.SetProperty(s => s.SeenAt, now));
    }

    /// <summary>Makes a cookie's secret worthless.</summary>
    public void SignOut(string? secret)
    {
        if (string.IsNullOrEmpty(secret) || secret.Length > 200) return;
        var hash = HashOf(secret);
        context.SignIns.Where(s => s.Hash == hash).ExecuteDelete();
    }

    /// <summary>The rigs of a person, by name, each with what the person may do there.</summary>
    public IReadOnlyList<(int RigId, string Name, Role Role, bool Archived)> RigsOf(int personId) =>
        [.. (from m in context.Memberships where m.PersonId == personId join r in context.Rigs on m.RigId equals r.Id orderby r.Name,
            r.Id select new { r.Id, r.Name, m.Role, Archived = r.ArchivedAt != null })
            .AsEnumerable().Select(r => (r.Id, r.Name, r.Role, r.Archived))];

    /// <summary>Who belongs to a rig, owners first.</summary>
    public IReadOnlyList<Member> Members(int rigId) =>
        [.. (from m in context.Memberships where m.RigId == rigId join p in context.Users on m.PersonId equals p.Id orderby m.Role descending,
            p.UserName select new { p.Id, p.UserName, m.Role, m.Since })
            .AsEnumerable().Select(m => new Member(m.Id, m.UserName ?? "", m.Role, m.Since))];

    /// <summary>Makes a person belong to a rig, or changes what the person may do there.</summary>
    public void Join(int rigId, int personId, Role role)
    {
        if (context.Memberships.Find(rigId, personId) is { } there) there.Role = role;
        else context.Memberships.Add(new MembershipRow { RigId = rigId, PersonId = personId, Role = role, Since = clock.GetCurrentInstant() });
        context.SaveChanges();
    }

    /// <summary>Rigs that nobody owns, from before there were accounts, become this person's.</summary>
    public void Adopt(int personId)
    {
        foreach (var rig in context.Rigs.Where(r => !context.Memberships.Any(m => m.RigId == r.Id && m.Role == Role.Owner)).Select(r => r.Id).ToList())
            Join(rig, personId, Role.Owner);
    }

    /// <summary>Takes a person out of a rig, unless it is the last owner.</summary>
    /// <returns>False if the person does not belong to it, or is its last owner.</returns>
    public bool Leave(int rigId, int personId)
    {
        using var transaction = context.Database.BeginTransaction();
        if (context.Memberships.Find(rigId, personId) is not { } row) return false;
        if (row.Role == Role.Owner && context.Memberships.Count(m => m.RigId == rigId && m.Role == Role.Owner) == 1) return false;
        context.Memberships.Remove(row);
        context.SaveChanges();
        transaction.Commit();
        return true;
    }

    /// <summary>Makes an invitation that works once, for a week.</summary>
    /// <returns>The secret for the link; it is not kept, only its hash is.</returns>
    public string Invite(int rigId, Role role)
    {
        var secret = NewSecret();
        var now = clock.GetCurrentInstant();
        context.Invitations.Add(new InvitationRow { RigId = rigId, Role = role, Hash = HashOf(secret), CreatedAt = now, ExpiresAt = now + InvitationLasts });
        context.SaveChanges();
        return secret;
    }

    /// <summary>The open invitations of a rig.</summary>
    public IReadOnlyList<Invitation> Invitations(int rigId)
    {
        var now = clock.GetCurrentInstant();
        return [.. context.Invitations.AsNoTracking().Where(i => i.RigId == rigId && i.UsedBy == null && !i.Revoked && i.ExpiresAt > now).OrderBy(i => i.Id)
            .Select(i => new Invitation(i.Id, i.Role, i.ExpiresAt))];
    }

    /// <summary>Takes an invitation back.</summary>
    /// <returns>False if the rig has no such open invitation.</returns>
    public bool Revoke(int rigId, int invitationId) =>
        context.Invitations.Where(i => i.RigId == rigId && i.Id == invitationId && i.UsedBy == null)
            .ExecuteUpdate(u => u.SetProperty(i => i.Revoked, true)) == 1;

    /// <summary>The rig and role an invitation is good for; null if it is not.</summary>
    public (string Rig, Role Role)? Invited(string? secret)
    {
        if (Open(secret) is not { } row) return null;
        return (context.Rigs.Where(r => r.Id == row.RigId).Select(r => r.Name).First(), row.Role);
    }

    /// <summary>Uses an invitation up: the person belongs to the rig afterwards. Who belongs to it with more rights keeps them.</summary>
    /// <param name="secret">The secret of the link.</param>
    /// <param name="personId">The person.</param>
    /// <param name="rigId">The rig joined.</param>
    public Joining Use(string? secret, int personId, out int rigId)
    {
        rigId = 0;
        using var transaction = context.Database.BeginTransaction();
        if (Open(secret) is not { } row) return Joining.NoLongerGood;
        rigId = row.RigId;
        if (context.Memberships.Find(row.RigId, personId) is not { } there || there.Role < row.Role) Join(row.RigId, personId, row.Role);
        row.UsedBy = personId;
        context.SaveChanges();
        transaction.Commit();
        return Joining.Done;
    }

    /// <summary>Makes a token for another program.</summary>
    /// <param name="rigId">The rig.</param>
    /// <param name="name">What its owner calls it.</param>
    /// <param name="scopes">What it is good for.</param>
    /// <returns>The token; it is not kept, only its hash is.</returns>
    public string NewToken(int rigId, string name, TokenScopes scopes)
    {
        var token = "tks_" + NewSecret();
        context.ApiTokens.Add(new ApiTokenRow { RigId = rigId, Name = name, Hash = HashOf(token), Scopes = scopes, CreatedAt = clock.GetCurrentInstant() });
        context.SaveChanges();
        return token;
    }

    /// <summary>The tokens of a rig.</summary>
    public IReadOnlyList<ApiToken> Tokens(int rigId) =>
        [.. context.ApiTokens.AsNoTracking().Where(t => t.RigId == rigId).OrderBy(t => t.Id).Select(t => new ApiToken(t.Id, t.Name, t.Scopes, t.LastUsedAt))];

    /// <summary>Makes a token worthless.</summary>
    /// <returns>False if the rig has no such token.</returns>
    public bool DropToken(int rigId, int tokenId) => context.ApiTokens.Where(t => t.RigId == rigId && t.Id == tokenId).ExecuteDelete() == 1;

    /// <summary>What a token is good for, or null. Its use is remembered to the hour.</summary>
    public GoodToken? Token(string? token)
    {
        if (string.IsNullOrEmpty(token) || token.Length > 200) return null;
        var hash = HashOf(token);
        if (context.ApiTokens.AsNoTracking().FirstOrDefault(t => t.Hash == hash) is not { } row) return null;
        var now = clock.GetCurrentInstant();
        if (row.LastUsedAt is not { } used || now - used > Duration.FromHours(1))
            context.ApiTokens.Where(t => t.Id == row.Id).ExecuteUpdate(u => u.SetProperty(t => t.LastUsedAt, now));
        return new GoodToken(row.Id, row.RigId, row.Name, row.Scopes);
    }

    /// <summary>Makes a link that shows the service sheet of a rig until a moment.</summary>
    /// <returns>The secret for the link; it is not kept, only its hash is.</returns>
    public string Share(int rigId, string name, Duration lasts)
    {
        var secret = NewSecret();
        var now = clock.GetCurrentInstant();
        context.ShareLinks.Where(l => l.ExpiresAt <= now).ExecuteDelete(); // what is over shows nothing and is of no use
        context.ShareLinks.Add(new ShareLinkRow { RigId = rigId, Name = name, Hash = HashOf(secret), CreatedAt = now, ExpiresAt = now + lasts });
        context.SaveChanges();
        return secret;
    }

    /// <summary>The links of a rig that still work.</summary>
    public IReadOnlyList<ShareLink> Shares(int rigId)
    {
        var now = clock.GetCurrentInstant();
        return [.. context.ShareLinks.AsNoTracking().Where(l => l.RigId == rigId && l.ExpiresAt > now).OrderBy(l => l.Id)
            .Select(l => new ShareLink(l.Id, l.Name, l.ExpiresAt, l.OpenedAt))];
    }

    /// <summary>Makes a link worthless.</summary>
    /// <returns>False if the rig has no such link.</returns>
    public bool DropShare(int rigId, int linkId) => context.ShareLinks.Where(l => l.RigId == rigId && l.Id == linkId).ExecuteDelete() == 1;

    /// <summary>The rig that a link shows, and until when; null if there is no such link or its time is over.</summary>
    public (int RigId, Instant Until)? Shared(string? secret)
    {
        if (string.IsNullOrEmpty(secret) || secret.Length > 200) return null;
        var hash = HashOf(secret);
        var now = clock.GetCurrentInstant();
        if (context.ShareLinks.AsNoTracking().FirstOrDefault(l => l.Hash == hash && l.ExpiresAt > now) is not { } row) return null;
        if (row.OpenedAt is not { } opened || now - opened > Duration.FromHours(1))
            context.ShareLinks.Where(l => l.Id == row.Id).ExecuteUpdate(u => u.SetProperty(l => l.OpenedAt, now));
        return (row.RigId, row.ExpiresAt);
    }

    private InvitationRow? Open(string? secret)
    {
        if (string.IsNullOrEmpty(secret) || secret.Length > 200) return null;
        var hash = HashOf(secret);
        var now = clock.GetCurrentInstant();
        return context.Invitations.FirstOrDefault(i => i.Hash == hash && i.UsedBy == null && !i.Revoked && i.ExpiresAt > now);
    }

    // 160 bits from the system's generator: a plain hash is enough to keep them by, nobody guesses one.
    private static string NewSecret() => Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(20));

    internal static string HashOf(string secret) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(secret)));
}
