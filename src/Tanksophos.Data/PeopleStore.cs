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
/// <param name="Role">Guest reads, crew logs too.</param>
/// <param name="LastUsedAt">When it was last used, to the hour; null for never.</param>
public sealed record ApiToken(int Id, string Name, Role Role, Instant? LastUsedAt);

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

    /// <summary>Notes that a person is signed in on a device.</summary>
    /// <returns>The secret for the device's cookie; it is not kept, only its hash is.</returns>
    public string SignIn(int personId)
    {
        var secret = NewSecret();
        context.SignIns.Add(new SignInRow { Hash = HashOf(secret), PersonId = personId, Since = clock.GetCurrentInstant() });
        context.SaveChanges();
        context.ChangeTracker.Clear();
        return secret;
    }

    /// <summary>Who is signed in by a cookie's secret; null for nobody.</summary>
    public Person? SignedIn(string? secret)
    {
        if (string.IsNullOrEmpty(secret) || secret.Length > 200) return null;
        var hash = HashOf(secret);
        return context.SignIns.AsNoTracking().Where(s => s.Hash == hash).Join(context.Users, s => s.PersonId, p => p.Id, (s, p) => p).FirstOrDefault();
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
    /// <returns>The token; it is not kept, only its hash is.</returns>
    public string NewToken(int rigId, string name, bool mayLog)
    {
        var token = "tks_" + NewSecret();
        context.ApiTokens.Add(new ApiTokenRow
        {
            RigId = rigId,
            Name = name,
            Hash = HashOf(token),
            Role = mayLog ? Role.Crew : Role.Guest,
            CreatedAt = clock.GetCurrentInstant()
        });
        context.SaveChanges();
        return token;
    }

    /// <summary>The tokens of a rig.</summary>
    public IReadOnlyList<ApiToken> Tokens(int rigId) =>
        [.. context.ApiTokens.AsNoTracking().Where(t => t.RigId == rigId).OrderBy(t => t.Id).Select(t => new ApiToken(t.Id, t.Name, t.Role, t.LastUsedAt))];

    /// <summary>Makes a token worthless.</summary>
    /// <returns>False if the rig has no such token.</returns>
    public bool DropToken(int rigId, int tokenId) => context.ApiTokens.Where(t => t.RigId == rigId && t.Id == tokenId).ExecuteDelete() == 1;

    /// <summary>What a token is good for, or null. Its use is remembered to the hour.</summary>
    public (int RigId, Role Role, string Name)? Token(string? token)
    {
        if (string.IsNullOrEmpty(token) || token.Length > 200) return null;
        var hash = HashOf(token);
        if (context.ApiTokens.AsNoTracking().FirstOrDefault(t => t.Hash == hash) is not { } row) return null;
        var now = clock.GetCurrentInstant();
        if (row.LastUsedAt is not { } used || now - used > Duration.FromHours(1))
            context.ApiTokens.Where(t => t.Id == row.Id).ExecuteUpdate(u => u.SetProperty(t => t.LastUsedAt, now));
        return (row.RigId, row.Role, row.Name);
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
