using System.Globalization;
using System.Security.Claims;

namespace Tanksophos.Web.Rigs;

/// <summary>Reads the signed-in person out of the request.</summary>
internal static class Persons
{
    public static int? Id(this ClaimsPrincipal person) =>
        person.Identity?.IsAuthenticated == true
            && int.TryParse(person.FindFirstValue(ClaimTypes.NameIdentifier), NumberStyles.None, CultureInfo.InvariantCulture, out var id) ? id : null;
}
