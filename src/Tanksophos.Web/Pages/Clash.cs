namespace Tanksophos.Web.Pages;

/// <summary>A form that meets a change somebody else made while it was open: both stand side by side, and the person decides.</summary>
/// <param name="What">What was changed, as it continues "Riley changed".</param>
/// <param name="Who">Who changed it last.</param>
/// <param name="Send">Where the form goes to save all the same.</param>
/// <param name="Keep">The page with what is saved now.</param>
/// <param name="Fields">What was sent, to be sent again.</param>
/// <param name="Differs">The fields in which the two differ, in words.</param>
public sealed record Clash(string What, string Who, string Send, string Keep,
    IReadOnlyList<(string Name, string Value)> Fields, IReadOnlyList<(string Field, string Yours, string Saved)> Differs)
{
    /// <summary>The field in which a form says which revision of the rig it was made on.</summary>
    public const string Seen = "seen";

    /// <summary>What a form has sent, without the tokens around it.</summary>
    /// <param name="form">The form.</param>
    /// <param name="instead">Fields that are sent with another value.</param>
    public static IReadOnlyList<(string Name, string Value)> Sent(IFormCollection form, params (string Name, string Value)[] instead)
    {
        ArgumentNullException.ThrowIfNull(form);
        ArgumentNullException.ThrowIfNull(instead);
        return [.. form.Where(f => !f.Key.StartsWith("__", StringComparison.Ordinal) && instead.All(i => i.Name != f.Key))
            .SelectMany(f => f.Value.Select(v => (f.Key, v ?? ""))), .. instead];
    }
}
