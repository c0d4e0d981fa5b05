using System.Net;
using System.Net.NetworkInformation;
using System.Net.Sockets;
using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;
using System.Text;
using QRCoder;
using Tanksophos.Web.Drawing;

namespace Tanksophos.Web.Accounts;

/// <summary>The addresses under which this machine is reached, as text, as a QR code, and with a certificate.</summary>
internal static class Addresses
{
    private static readonly TimeSpan CertificateLasts = TimeSpan.FromDays(820);
    private static readonly TimeSpan RenewBefore = TimeSpan.FromDays(30);

    /// <summary>This machine's addresses on its networks, the likeliest first.</summary>
    public static IReadOnlyList<IPAddress> OfThisMachine() =>
        [.. NetworkInterface.GetAllNetworkInterfaces()
            .Where(n => n.OperationalStatus == OperationalStatus.Up && n.NetworkInterfaceType != NetworkInterfaceType.Loopback)
            .OrderBy(n => n.GetIPProperties().GatewayAddresses.Count == 0)
            .SelectMany(n => n.GetIPProperties().UnicastAddresses).Select(u => u.Address)
            .Where(a => a.AddressFamily == AddressFamily.InterNetwork && !IPAddress.IsLoopback(a)).Distinct()];

    /// <summary>
    /// The start of a link for others. On this machine itself the browser says "localhost"; a link for others names the machine as they reach it.
    /// </summary>
    public static string ForOthers(HttpRequest request, bool lan)
    {
        ArgumentNullException.ThrowIfNull(request);
        var host = lan && request.Host.Host is "localhost" or "127.0.0.1" or "[::1]" && OfThisMachine() is [var near, ..]
            ? $"{near}:{request.Host.Port}" : request.Host.ToString();
        return $"{request.Scheme}://{host}{request.PathBase}";
    }

    /// <summary>Names and addresses a request may ask for; others are refused, so that no foreign page can reach in under a name of its own.</summary>
    public static IReadOnlyList<string> Hosts(bool lan)
    {
        List<string> hosts = ["localhost", "127.0.0.1", "[::1]"];
        if (!lan) return hosts;
        hosts.AddRange(OfThisMachine().Select(a => a.ToString()));
        hosts.AddRange([Environment.MachineName, Environment.MachineName + ".local", Environment.MachineName + ".lan"]);
        return hosts;
    }

    /// <summary>The certificate in the data folder, made on first use and again when it runs out or this machine's addresses have changed.</summary>
    public static X509Certificate2 OwnCertificate(string path, DateTimeOffset now)
    {
        var wanted = Hosts(lan: true).Select(h => h.Trim('[', ']')).Distinct().ToList();
        if (File.Exists(path))
        {
            var kept = X509CertificateLoader.LoadPkcs12FromFile(path, null);
            var names = kept.Extensions.OfType<X509SubjectAlternativeNameExtension>()
                .SelectMany(e => e.EnumerateDnsNames().Concat(e.EnumerateIPAddresses().Select(a => a.ToString()))).ToHashSet(StringComparer.OrdinalIgnoreCase);
            if (kept.NotAfter > now + RenewBefore && wanted.All(names.Contains)) return kept;
            kept.Dispose();
        }
        using var key = ECDsa.Create(ECCurve.NamedCurves.nistP256);
        var request = new CertificateRequest("CN=Tanksophos on " + Environment.MachineName, key, HashAlgorithmName.SHA256);
        var alternative = new SubjectAlternativeNameBuilder();
        foreach (var name in wanted)
        {
            if (IPAddress.TryParse(name, out var address)) alternative.AddIpAddress(address);
            else alternative.AddDnsName(name);
        }
        request.CertificateExtensions.Add(alternative.Build());
        request.CertificateExtensions.Add(new X509BasicConstraintsExtension(certificateAuthority: false, hasPathLengthConstraint: false,
            pathLengthConstraint: 0, critical: true));
        request.CertificateExtensions.Add(new X509KeyUsageExtension(X509KeyUsageFlags.DigitalSignature, true));
        request.CertificateExtensions.Add(new X509EnhancedKeyUsageExtension([new Oid("1.3.6.1.5.5.7.3.1")], false));
        using var made = request.CreateSelfSigned(now.AddDays(-1), now + CertificateLasts);
        var file = made.Export(X509ContentType.Pkcs12);
        File.WriteAllBytes(path, file);
        if (!OperatingSystem.IsWindows()) File.SetUnixFileMode(path, UnixFileMode.UserRead | UnixFileMode.UserWrite);
        return X509CertificateLoader.LoadPkcs12(file, null);
    }

    /// <summary>A QR code of a text as an SVG path of unit squares, and how many squares a side has, the quiet edge included.</summary>
    public static (string Path, int Side) Qr(string text)
    {
        var rows = Modules(text);
        var path = new StringBuilder();
        for (var y = 0; y < rows.Count; y++)
            for (var x = 0; x < rows[y].Count; x++)
                if (rows[y][x]) path.Append('M').Append(Svg.N(x)).Append(' ').Append(Svg.N(y)).Append("h1v1h-1z");
        return (path.ToString(), rows.Count);
    }

    /// <summary>A QR code for a terminal: two rows of squares in a line of text.</summary>
    public static string QrText(string text)
    {
        var rows = Modules(text);
        var lines = new StringBuilder();
        for (var y = 0; y < rows.Count; y += 2)
        {
            for (var x = 0; x < rows[y].Count; x++)
            {
                var (upper, lower) = (!rows[y][x], y + 1 >= rows.Count || !rows[y + 1][x]); // light on dark, as most terminals are
                lines.Append(upper && lower ? '█' : upper ? '▀' : lower ? '▄' : ' ');
            }
            lines.Append('\n');
        }
        return lines.ToString();
    }

    private static List<System.Collections.BitArray> Modules(string text)
    {
        using var generator = new QRCodeGenerator();
        using var code = generator.CreateQrCode(text, QRCodeGenerator.ECCLevel.M);
        return code.ModuleMatrix;
    }
}
