using System.Runtime.InteropServices;

namespace Tanksophos.Web.Hosting;

/// <summary>Files that the program makes are for its owner alone, whoever makes them: database, its log, keys, backups.</summary>
internal static class PrivateFiles
{
    private const uint NothingForOthers = 0x3F; // 077 in octal

    /// <summary>Sets the process's mask for new files; does nothing where there is none.</summary>
    public static void FromNowOn()
    {
        if (!OperatingSystem.IsWindows()) _ = Umask(NothingForOthers);
    }

    [DllImport("libc", EntryPoint = "umask")]
    [DefaultDllImportSearchPaths(DllImportSearchPath.System32)]
#pragma warning disable SYSLIB1054 // one call without strings needs no generated code
    private static extern uint Umask(uint mask);
#pragma warning restore SYSLIB1054
}
