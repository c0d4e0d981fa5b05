namespace Tanksophos.Words.Pages;

/// <summary>What the pages of Account say.</summary>
internal static class AccountSays
{
    // Index
    public static string ShareThisLink => "Share this link";
    public static string ItWorksOnceFor7Days => "It works once, for 7 days. It is shown only now.";
    public static string Link => "Link";
    public static string TheProgramOnlyAnswersThis =>
        "The program only answers this computer right now, so the link only works here. Start it with [--lan] to let phones in.";
    public static string CopyThisNow => "Copy this now";
    public static string Token => "Token";
    public static string ShownOnlyNow =>
        "Shown only now; no copy is kept. Your other program sends it as [Authorization: Bearer …]. [What it can ask for].";
    public static string PeopleOn(string name) => $"People on {name}";
    public static string RoleOf(string name) => $"Role of {name}";
    public static string Out => "out";
    public static string Set => "Set";
    public static string GuestsReadCrewReadAndLog => "Guests read. Crew read and log. Owners change everything.";
    public static string InviteCrew => "Invite crew";
    public static string InviteAGuest => "Invite a guest";
    public static string InviteAnotherOwner => "Invite another owner";
    public static string AnInvitationForIsOpenFor(string role, int days) =>
        $"An invitation for {role} is open for {days} more {(days == 1 ? "day" : "days")}.";
    public static string CancelIt => "Cancel it";
    public static string LeaveThisRig => "Leave this rig";
    public static string OtherPrograms => "Other programs";
    public static string AGadgetOrScriptCanLog(string name) => $"A gadget or script can log readings or fetch the logbook of {name} with a token.";
    public static string NameForANewToken => "Name for a new token";
    public static string WhatItMayDo => "What it may do";
    public static string ScopeRead => "Read the rig and its log";
    public static string ScopeLog => "Log entries and add photos";
    public static string ScopeDevices => "Send and read measurements";
    public static string TokenChooseWhatItMayDo => "Token: choose at least one thing it may do.";
    public static string WhatProgramsCanAsk => "What programs can ask for";
    public static string HandOver => "Hand this rig over";
    public static string HandOverTo => "New owner";
    public static string HandOverExplained => "The new owner can change everything. You stay on as crew.";
    public static string HandOverNow => "Hand over";
    public static string IsOwnerNow(string name) => $"{name} is the owner now. You are crew.";
    public static string HandOverChoose => "New owner: choose someone on this rig.";
    public static string MakeAToken => "Make a token";
    public static string You => "You";
    public static string Units => "Units";
    public static string GallonsFeetF => "gallons, feet, F";
    public static string LitersMetersC => "liters, meters, C";
    public static string Clock => "Clock";
    public static string Of845PM => "8:45 PM";
    public static string Dates => "Dates";
    public static string Nov28 => "Nov 28";
    public static string Of28Nov => "28 Nov";
    public static string DayOfWeek(NodaTime.IsoDayOfWeek day) =>
        System.Globalization.CultureInfo.InvariantCulture.DateTimeFormat.GetDayName((DayOfWeek)((int)day % 7));
    public static string WeekBegins => "Week starts on";
    public static string Prices => "Prices";
    public static string NameAndSignIn => "Name, passphrase, devices";

    // You
    public static string YourAccount => "Your account";
    public static string Name => "Name";
    public static string Rename => "Rename";
    public static string NewName => "Name others see";
    public static string NameChanged(string name) => $"You are {name} now. Earlier entries keep the name you had.";
    public static string WhereYouAreSignedIn => "Where you are signed in";
    public static string ThisDevice => "This device";
    public static string Phone => "Phone";
    public static string Tablet => "Tablet";
    public static string Computer => "Computer";
    public static string ADevice => "A device";
    public static string DeviceAt(string kind, string system, string from) =>
        kind + (system.Length > 0 ? $" ({system})" : "") + (from.Length > 0 ? $", {from}" : "");
    public static string SignedInSince(string since, string? seen) => $"signed in {since}{(seen is null ? "" : $", last used {seen}")}";
    public static string EndThis => "Sign out there";
    public static string Ended => "Signed out there.";
    public static string SecondStep => "Code from an app";
    public static string SecondStepExplained =>
        "After your passphrase, you type a 6-digit code from an authenticator app on your phone. A stolen passphrase alone then gets nobody in.";
    public static string SetItUp => "Set it up";
    public static string ScanThis => "Scan this with your authenticator app";
    public static string OrTypeThisKey => "Or type this key into the app";
    public static string CodeTheAppShows => "Code the app shows";
    public static string TurnOn => "Turn on";
    public static string ItIsOn(int left) => $"Codes are on. {left} recovery {(left == 1 ? "code" : "codes")} left.";
    public static string NewRecoveryCodes => "Make new recovery codes";
    public static string TurnOff => "Turn off";
    public static string RecoveryCodes => "Recovery codes";
    public static string RecoveryCodesExplained =>
        "Keep these where you keep your keys. Each works once when you don't have your phone. Shown only now.";
    public static string SecondStepIsOff => "Codes are off.";
    public static string CodeWrong => "Code: wrong or already used. Wait for the next one.";
    public static string CodeOfYourApp => "Code from your authenticator app";
    public static string LostYourPhone =>
        "No phone at hand? Type a recovery code instead. If those are lost too, the codes can be turned off on the computer running this program.";
    public static string TookTooLong => "That took too long. Type your passphrase again.";
    public static string NameAfterAPassphrase => "Set a passphrase first: without one, the name alone opens this account.";
    public static string NameSetAPassphraseFirst => "Name: set a passphrase first.";
    public static string SetAPassphraseFirst => "Code: set a passphrase first.";
    public static string QRCodeForTheApp => "QR code for the authenticator app";
    public static string DeleteAccount => "Delete account";
    public static string DeleteExplained => "This deletes your account, settings and practice cases. Your name stays on what you logged.";
    public static string DownloadYourData => "Download your data";
    public static string NeedsAnOwner(string rig) => $"{rig} needs another owner first: hand it over on the Account page while you are on that rig.";
    public static string GoesWithYou(string rig) => $"{rig} is only yours: it is deleted with its log and photos.";
    public static string DownloadFirst(string rig) => $"Download {rig} first";
    public static string IsDownloaded => "Downloaded";
    public static string TypeYourName(string name) => $"Type {name} to confirm";
    public static string DeleteForGood => "Delete my account";
    public static string NameTypeItToConfirm(string name) => $"Name: type {name} to confirm.";
    public static string RigsHandOverOrDownloadFirst => "Rigs: hand over or download the rigs listed below first.";

    public static string CurrentPassphrase => "Current passphrase";
    public static string NewPassphrase => "New passphrase";
    public static string NewPassphraseAgain => "New passphrase again";
    public static string ChangePassphrase => "Change passphrase";
    public static string Backups => "Backups";
    public static string SignOutHere => "Sign out here";
    public static string SignOutEverywhere => "Sign out everywhere";
    public static string TheInvitation => "The invitation";
    public static string QRCodeOfTheLink => "QR code of the link";
    public static string TheToken => "The token";
    public static string Of(string roleName, string name) => $"{roleName} of {name}";
    public static string YouInLine => " (you)";
    public static string Scopes(bool reads, bool logs, bool devices) =>
        string.Join(", ", new[] { reads ? "reads" : "", logs ? "logs" : "", devices ? "measures" : "" }.Where(s => s.Length > 0));
    public static string LastUsed(string ago) => $"last used {ago}";
    public static string NeverUsed => "never used";
    public static string ChangeThePassphrase => "Change the passphrase";
    public static string SetAPassphrase => "Set a passphrase";
    public static string CreateYourAccount => "Create your account";
    public static string ItKeepsOthersOutAndShows => "It keeps others out and shows who logged what. Your rig comes next.";
    public static string EverythingYouLogStaysOnThis => "Everything you log stays on this computer.";
    public static string YourName => "Your name";
    public static string Passphrase => "Passphrase";
    public static string PassphraseAgain => "Passphrase again";
    public static string AtLeastCharactersAFewWords(int shortestPassphrase) =>
        $"At least {shortestPassphrase} characters; a few words in a row are easy to remember. If you forget it, reset it on this computer.";
    public static string CodeTheProgramPrintedAtStartup => "Code the program printed at startup";
    public static string CreateAccount => "Create account";
    public static string ThisInvitationNoLongerWorks => "This invitation no longer works";
    public static string ItWasUsedCanceledOrIs => "It was used, canceled, or is older than a week. Ask the rig's owner for a new one.";
    public static string GoToTheStartPage => "Go to the start page";
    public static string Join(string rig) => $"Join {rig}";
    public static string YouAreSignedInAs(string who) => $"You are signed in as {who}.";
    public static string JoinAs(string who) => $"Join as {who}";
    public static string AtLeastCharactersAFewWordsIn(int shortestPassphrase) =>
        $"At least {shortestPassphrase} characters; a few words in a row are easy to remember.";
    public static string CreateAccountAndJoin => "Create account and join";
    public static string HaveAnAccountHere => "Have an account here? [Sign in first].";
    public static string JoinARig => "Join a rig";
    public static string ToView => "to view";
    public static string ToViewAndLog => "to view and log";
    public static string AsAnOwner => "as an owner";
    public static string SignIn => "Sign in";
    public static string Demo => "Demo";
    public static string AMadeUpRigWithHalf => "A made-up rig with half a season logged. Look around and try things.";
    public static string OpenTheDemo => "Open the demo";
    public static string TheRigsOwnerCanInviteYou =>
        "The rig's owner can invite you. A forgotten passphrase is reset on the computer running this program: [tanksophos-web passphrase NAME].";

    // SigningIn
    public static string NameUse1ToCharacters(int longestName) => $"Name: use 1 to {longestName} characters.";
    public static string PassphraseToCharactersAre(int shortestPassphrase, int longestPassphrase) =>
        $"Passphrase: {shortestPassphrase} to {longestPassphrase} characters are accepted; a few words in a row are good.";
    public static string PassphraseItRepeatsTheSameFew => "Passphrase: it repeats the same few characters. A few words in a row are good.";
    public static string PassphraseTheTwoDoNotMatch => "Passphrase: the two do not match.";
    public static string NameAnAccountAlreadyExists(string? name) => $"Name: an account '{name}' already exists.";
    public static string TheAccountCantBeCreated => "The account can't be created: ";

    // Index
    public static string TooManyWrongTriesWaitMinutes(double totalMinutes) => $"Too many wrong tries. Wait {totalMinutes:0} minutes, then try again.";
    public static string PassphraseTheCurrentOneIsWrong => "Passphrase: the current one is wrong.";
    public static string PassphraseChangedSignInAgainOn => "Passphrase changed. Sign in again on your other devices.";
    public static string InvitationChooseGuestCrewOr => "Invitation: choose guest, crew or owner.";
    public static string InvitationAtMostCanBeOpen(int maxInvitations) =>
        $"Invitation: at most {maxInvitations} can be open at once. Cancel some first.";
    public static string InvitationCanceled => "Invitation canceled.";
    public static string TokenEnterANameOf1(int longestTokenName) => $"Token: enter a name of 1 to {longestTokenName} characters.";
    public static string TokenAtMostAreKeptRemove(int maxTokens) => $"Token: at most {maxTokens} are kept. Remove some first.";
    public static string TokenRemovedProgramsThatUsedIt => "Token removed. Programs that used it are refused now.";
    public static string IsNoLongerOn(string name, string rig) => $"{name} is no longer on {rig}.";
    public static string TheLastOwnerCantLeaveMake => "The last owner can't leave. Make someone else an owner first.";
    public static string RoleChooseGuestCrewOrOwner => "Role: choose guest, crew or owner.";
    public static string TheRigNeedsAnOwnerMake => "The rig needs an owner. Make someone else one first.";
    public static string IsNow(string name, string roleName) => $"{name} is now {roleName}.";
    public static string CodeWrongCodeOpenTheLink => "Code: wrong code. Open the link the program printed at startup.";
    public static string WrongNameOrPassphrase => "Wrong name or passphrase.";
}
