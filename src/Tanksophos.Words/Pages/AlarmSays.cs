namespace Tanksophos.Words.Pages;

/// <summary>What the pages of Alarm say.</summary>
internal static class AlarmSays
{
    // Index
    public static string PropaneRuledOut => "Propane ruled out";
    public static string WhatElseCanSetAGas => "What else can set a gas alarm off";
    public static string LowBattery => "Low battery.";
    public static string ManyGasDetectorsChirpOrTrip => "Many gas detectors chirp or trip below 11 V. Measure the battery.";
    public static string LogTheBattery => "Log the battery";
    public static string SprayCansAndCleaners => "Spray cans and cleaners.";
    public static string HairSprayDisinfectantSolvents =>
        "Hair spray, disinfectant, solvents near the floor. Air out the rig and keep them away from the detector.";
    public static string ADryDrainTrap => "A dry drain trap.";
    public static string SewerGasCanTripTheAlarm => "Sewer gas can trip the alarm. Add a cup of water to every drain.";
    public static string LogTheTraps => "Log the traps";
    public static string AnOldDetector => "An old detector.";
    public static string MostLast5To7Years => "Most last 5 to 7 years. Check the date on its back.";
    public static string IfItSoundsAgainTreatIt => "If it sounds again, treat it as real again: everyone out first.";
    public static string NoActiveAlarm => "No active alarm";
    public static string IfAnAlarmSoundsOrYou => "If an alarm sounds, or you smell gas";
    public static string NoFlamesNoSwitchesNoEngine => "No flames, no switches, no engine. Leave doors open behind you.";
    public static string EveryoneOutFirstPetsTooAway => "Everyone out first, pets too, away from the rig.";
    public static string CloseTheGasAtTheCylinder => "Close the gas at the cylinder only if you can reach it safely.";
    public static string CallForHelpFromOutside => "Call for help from outside.";
    public static string AnAlarmSoundsNow => "An alarm sounds now";
    public static string LoggedTreatItAsRealUntil(string ago) => $"Logged {ago}. Treat it as real until a qualified person rules out propane.";
    public static string PropaneRuledOutByAQualified => "Propane ruled out by a qualified person";
    public static string LoggedByMistake => "Logged by mistake";
    public static string WhatElseMayHaveSetThe => "What else may have set the alarm off";
    public static string IfAnAlarmSounds => "If an alarm sounds";
    public static string SmellOfGas => "Smell of gas";
    public static string SmellOfGasEveryoneOut => "Smell of gas: everyone out";
    public static string PropaneAlarmEveryoneOut => "Propane alarm: everyone out";
}
