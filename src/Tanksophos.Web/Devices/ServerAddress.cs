namespace Tanksophos.Web.Devices;

/// <summary>An address of the owner's own server, as an option gives it: <c>scheme://user@host:port</c>, with the password in a file of its own.</summary>
/// <param name="Host">Name or address.</param>
/// <param name="Port">Port.</param>
/// <param name="Tls">Whether it is encrypted from the beginning.</param>
/// <param name="User">Name to sign in with; null for none.</param>
/// <param name="Password">Password; null for none.</param>
internal sealed record ServerAddress(string Host, int Port, bool Tls, string? User, string? Password)
{
    /// <summary>Reads the options.</summary>
    /// <param name="option">The option, whose name the scheme bears too.</param>
    /// <param name="address">The address.</param>
    /// <param name="passwordFile">A file with the password; null for none.</param>
    /// <param name="scheme">The scheme; with an s behind it, it is encrypted.</param>
    /// <param name="port">The usual port.</param>
    /// <param name="tlsPort">The usual port where it is encrypted.</param>
    /// <param name="wrong">What is wrong with them; null for nothing.</param>
    public static ServerAddress? Of(string option, string address, FileInfo? passwordFile, string scheme, int port, int tlsPort, out string? wrong)
    {
        wrong = null;
        if (!Uri.TryCreate(address, UriKind.Absolute, out var uri) || uri.Scheme != scheme && uri.Scheme != scheme + "s" || uri.Host.Length == 0
            || uri.UserInfo.Contains(':', StringComparison.Ordinal))
        {
            wrong = $"{option}: {scheme}://user@host:{port} or {scheme}s://user@host:{tlsPort} is accepted. The password goes into {option}-password-file.";
            return null;
        }
        string? password = null;
        try
        {
            if (passwordFile is not null) password = File.ReadLines(passwordFile.FullName).FirstOrDefault()?.Trim();
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            wrong = $"{option}-password-file: the file cannot be read: {e.Message}";
            return null;
        }
        var tls = uri.Scheme != scheme;
        return new ServerAddress(uri.Host, uri.Port > 0 ? uri.Port : tls ? tlsPort : port, tls,
            uri.UserInfo.Length > 0 ? Uri.UnescapeDataString(uri.UserInfo) : null, password);
    }
}
