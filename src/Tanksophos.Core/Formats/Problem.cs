namespace Tanksophos.Core.Formats;

/// <summary>Something wrong, or worth knowing, in a document that was read.</summary>
/// <param name="Path">Where: <c>entries[12].waterL</c>; empty for the document itself, <c>line 3</c> in a CSV.</param>
/// <param name="Message">What, and what is accepted.</param>
public sealed record Problem(string Path, string Message)
{
    /// <inheritdoc/>
    public override string ToString() => Path.Length == 0 ? Message : $"{Path}: {Message}";
}

/// <summary>What came of reading a document: a value and warnings, or errors and no value.</summary>
/// <typeparam name="T">The kind of document.</typeparam>
/// <param name="Value">The document; null exactly if there are errors.</param>
/// <param name="Errors">Everything that is wrong, in the order of the document, at most <see cref="MaxProblems"/>.</param>
/// <param name="Warnings">What was ignored or looks odd, at most <see cref="MaxProblems"/>.</param>
public sealed record ReadResult<T>(T? Value, IReadOnlyList<Problem> Errors, IReadOnlyList<Problem> Warnings) where T : class
{
    /// <summary>How many problems of a kind are listed at most; the last one then says that there are more.</summary>
    public const int MaxProblems = 100;

    /// <summary>Whether the document was read.</summary>
    public bool Ok => Errors.Count == 0;

    /// <summary>A failure with one error.</summary>
    public static ReadResult<T> Fail(string path, string message) => new(null, [new Problem(path, message)], []);
}
