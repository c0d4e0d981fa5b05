namespace Tanksophos.Web.Pages;

/// <summary>The one address that takes a file beyond the usual limit, and reads it by itself.</summary>
internal static class RestoreUpload
{
    public const string Address = "/keeping/restore";

    public static bool Is(HttpRequest request) => request.Path.Equals(Address, StringComparison.OrdinalIgnoreCase);
}
