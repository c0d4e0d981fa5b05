using Tanksophos.Core.Agendas;

namespace Tanksophos.Words.Pages;

/// <summary>Texts of the page about who is told what.</summary>
internal static class NoticeSays
{
    public static string Title => "Notices";
    public static string Lead => "Tell someone who isn't looking. Nothing is sent unless you set it up here.";
    public static string NotAnAlarm => "This is no alarm. Propane, smoke and CO need their own detectors.";
    public static string None => "No notices yet.";
    public static string Add => "Add a notice";
    public static string By => "By";
    public static string Wire(NoticeWire wire) => wire switch
    {
        NoticeWire.Webhook => "a web address (JSON)",
        NoticeWire.Mqtt => "an MQTT topic",
        NoticeWire.Mail => "mail",
    };
    public static string To => "To";
    public static string ToHint => "http://192.168.1.20:8123/hook, a topic, or a mailbox";
    public static string From => "What";
    public static string Level(AgendaLevel level) => level switch
    {
        AgendaLevel.Safety => "only what can hurt people",
        AgendaLevel.Now => "what is for now",
        AgendaLevel.Today => "what is for today",
        AgendaLevel.Soon => "what is for the next days",
        AgendaLevel.Later => "all of it",
    };
    public static string QuietFrom => "Quiet from";
    public static string QuietTo => "Quiet until";
    public static string QuietLead => "In quiet hours only what can hurt people is told. Leave both empty for none.";
    public static string AddIt => "Add";
    public static string Test => "Send a test";
    public static string Remove => "Remove";
    public static string Tested => "The test was sent.";
    public static string NotSent(string why) => $"Not sent: {why}";
    public static string LastTold(string ago) => $"Last sent {ago}";
    public static string NeverSent => "Nothing sent yet";
    public static string Quiet(string from, string to) => $"quiet {from} to {to}";
    public static string TestTitle => "This is a test.";
    public static string TestReason => "If you can read this, notices arrive.";
    public static string WireAccepted => "By: choose one of the ways in the list.";
    public static string AddressAccepted => "To: an address such as http://192.168.1.20:8123/hook is accepted.";
    public static string TopicAccepted => "To: a topic such as home/rig is accepted, without # and +.";
    public static string MailboxAccepted => "To: a mailbox such as robin@example.org is accepted.";
    public static string LevelAccepted => "What: choose one of the list.";
    public static string QuietAccepted => "Quiet from and until: two times such as 10:00 PM and 7:00 AM, or neither.";
    public static string TooMany => "Notices: this rig has as many as are kept. Remove one first.";
    public static string OnlyWebhook => "For mail, start the program with --smtp; for MQTT, with --mqtt.";
    public static string ToNotices => "Notices";
}
