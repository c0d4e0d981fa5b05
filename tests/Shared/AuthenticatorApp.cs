using System.Globalization;
using System.Net;
using System.Security.Cryptography;

namespace Tanksophos.Tests;

/// <summary>The code that an authenticator app shows for a key (RFC 6238).</summary>
internal static class AuthenticatorApp
{
    private const string Alphabet = "ABCDEFGHIJKLMNOPQRSTUVWXYZ234567";

    /// <param name="key">The key, in base 32.</param>
    /// <param name="step">How many half minutes ahead.</param>
    public static string CodeOf(string key, int step = 0)
    {
        var bits = string.Concat(key.Select(c => Convert.ToString(Alphabet.IndexOf(c, StringComparison.Ordinal), 2).PadLeft(5, '0')));
        var secret = Enumerable.Range(0, bits.Length / 8).Select(i => Convert.ToByte(bits.Substring(i * 8, 8), 2)).ToArray();
        var counter = BitConverter.GetBytes(IPAddress.HostToNetworkOrder(DateTimeOffset.UtcNow.ToUnixTimeSeconds() / 30 + step));
#pragma warning disable CA5350 // what authenticator apps do
        var hash = HMACSHA1.HashData(secret, counter);
#pragma warning restore CA5350
        var at = hash[^1] & 15;
        var number = ((hash[at] & 127) << 24) | (hash[at + 1] << 16) | (hash[at + 2] << 8) | hash[at + 3];
        return (number % 1_000_000).ToString("000000", CultureInfo.InvariantCulture);
    }
}
