using Tanksophos.Core.Agendas;

namespace Tanksophos.Words.Pages;

/// <summary>Texts of the page about who is told what.</summary>
internal static class NoticeSays
{
    public static string Title => "Notices";
    public static string Lead => "Get a message when your tanks need you. Nothing is sent unless you set it up here.";
    public static string NotAnAlarm => "This isn't a safety alarm. Propane, smoke and CO need their own detectors.";
    public static string None => "No notices yet.";
    public static string Add => "Add a notice";
    public static string By => "By";
    public static string Wire(NoticeWire wire) => wire switch
    {
        NoticeWire.Webhook => "a web address (JSON)",
        NoticeWire.Mqtt => "an MQTT topic",
        NoticeWire.Mail => "email",
    };
    public static string To => "To";
    public static string ToHint => "http://192.168.1.20:8123/hook, a topic, or an email address";
    public static string From => "What";
    public static string Level(AgendaLevel level) => level switch
    {
        AgendaLevel.Safety => "safety only",
        AgendaLevel.Now => "what needs doing now",
        AgendaLevel.Today => "what needs doing today",
        AgendaLevel.Soon => "the next few days",
        AgendaLevel.Later => "everything",
    };
    public static string QuietFrom => "Quiet from";
    public static string QuietTo => "Quiet until";
    public static string QuietLead => "During quiet hours you only get safety messages. Leave both blank for none.";
    public static string AddIt => "Add";
    public static string Test => "Send a test";
    public static string Remove => "Remove";
    public static string Tested => "Test sent.";
    public static string NotSent(string why) => $"Not sent: {why}";
    public static string LastTold(string ago) => $"Last sent {ago}";
    public static string NeverSent => "Nothing sent yet";
    public static string Quiet(string from, string to) => $"quiet {from} to {to}";
    public static string TestTitle => "This is a test.";
    public static string TestReason => "If you can read this, your notices work.";
    public static string WireAccepted => "By: choose one from the list.";
    public static string AddressAccepted => "To: an address such as http://192.168.1.20:8123/hook is accepted.";
    public static string TopicAccepted => "To: a topic such as home/rig is accepted, without # and +.";
    public static string MailboxAccepted => "To: an email address such as robin@example.org is accepted.";
    public static string LevelAccepted => "What: choose one from the list.";
    public static string QuietAccepted => "Quiet from and until: enter both, such as 10:00 PM and 7:00 AM, or neither.";
    public static string TooMany => "Notices: this rig already has the most it can. Remove one first.";
    public static string OnlyWebhook => "For email, start the program with --smtp; for MQTT, with --mqtt.";
    public static string ToNotices => "Notices";
}
