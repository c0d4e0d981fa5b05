namespace Tanksophos.Words.Pages;

/// <summary>What the pages of Rig say.</summary>
internal static class RigSays
{
    // Index
    public static string Lights => "lights";
    public static string Percent => "percent";
    public static string WholeRig => "Whole rig";
    public static string DragASensorUpOrDown => "Drag a sensor up or down the wall, or type its level.";
    public static string DrainsIntoIt => "Drains into it";
    public static string OtherDrainsSeparateWithCommas => "Other drains (separate with commas)";
    public static string Length => "Length";
    public static string Depth => "Depth";
    public static string ShareOfGrayWater => "Share of gray water, %";
    public static string Monitor => "Monitor";
    public static string Light => "Light";
    public static string Level => "Level, %";
    public static string Height => "Height";
    public static string AddALight => "Add a light";
    public static string Wiring => "Wiring";
    public static string Wire(string label) => $"{label}: wire";
    public static string RemoveThisTank => "Remove this tank";
    public static string SaveAndRemoveThisTank => "Save and remove this tank";
    public static string PeopleUsually => "People, usually";
    public static string FreshWaterHolds => "Fresh water holds";
    public static string FreshWaterNow => "Fresh water now";
    public static string OutletHoseAndEquipment => "Outlet, hose and equipment";
    public static string FlushInletPerMinute => "Flush inlet, per minute";
    public static string JugOrBucket => "Jug or bucket";
    public static string Wand => "Wand";
    public static string ToiletDrop => "Toilet drop";
    public static string SewerHose(string distanceSymbol) => $"Sewer hose, {distanceSymbol}";
    public static string OutletAboveGround => "Outlet above ground";
    public static string SewerAboveGround => "Sewer above ground";
    public static string CheckTheLabelTheWrongInlet =>
        "Check the label. The wrong inlet contaminates your drinking water or floods the black tank. Never use the flush hose for drinking water.";
    public static string SaveAndAddAGrayTank => "Save and add a gray tank";
    public static string SaveAndAddABlackTank => "Save and add a black tank";
    public static string WasRemovedItsEntriesAreKept(string name, string ago) => $"{name} was removed {ago}. Its entries are kept.";
    public static string SaveAndPutItBack => "Save and put it back";
    public static string EarlierVersions(int count) => $"Earlier versions ({count})";
    public static string WhatToChange => "What to change";
    public static string Equal => "equal";
    public static string TravelTrailer => "travel trailer";
    public static string TanksOf(int count) => count == 1 ? "1 tank" : $"{count} tanks";
    public static string Then => ", then ";
    public static string From(string capacity, string date) => $"{capacity} from {date}";
    public static string Said(string ago) => $" (said {ago})";
    public static string NotSet => "not set";
    public static string By(string who) => $"by {who}: ";

    // _RigDoubts
    public static string DoubleCheck => "Double-check";

    // _RigFall
    public static string TheHoseFallsEnoughIfIt(string fall) => $"The hose falls {fall}: enough, if it slopes down all the way.";

    // _RigTank
    public static string ItsSensorsAndItsScale(string name) => $"{name}, its sensors and its scale";

    // Index
    public static string FlushInletWithASprayHead => "flush inlet with a spray head";
    public static string ReverseFlushFitting => "reverse-flush fitting";
    public static string GateValveAtTheEndOf => "gate valve at the end of the outlet";
    public static string ClearPieceInTheHose => "clear piece in the hose";
    public static string BackflowPreventer => "backflow preventer";
    public static string WaterMeter => "water meter";
    public static string MaceratorPump => "macerator pump";
    public static string AddOnValveBehindADripping => "add-on valve behind a dripping one";
    public static string FanInTheRoofVent => "fan in the roof vent";
    public static string CapWithAHoseConnectionFor => "cap with a hose connection, for gray only";
    public static string TanksAndValvesProtectedFrom => "tanks and valves protected from freezing";
    public static string SomeoneElseChangedThisRigSince =>
        "Someone else changed this rig since you opened the page. What you typed is below. "
        + "Open the page in another tab to compare, then save again.";
    public static string RigSaved => "Rig saved.";
    public static string TankNoTankOfThatName => "Tank: no tank of that name to remove.";
    public static string ARigNeedsAtLeastOne => "A rig needs at least one tank.";
    public static string FreshWater => "Fresh water";
    public static string FlowOfTheFlushInlet => "Flow of the flush inlet";
    public static string Jug => "Jug";
    public static string SewerHoseField => "Sewer hose";
    public static string HeightOfTheOutlet => "Height of the outlet";
    public static string HeightOfTheSewer => "Height of the sewer";
    public static string FreshWaterNowEnter(string acceptedVolume) => $"Fresh water now: enter {acceptedVolume}.";
    public static string FreshWaterNowTheTankHolds(string volume) => $"Fresh water now: the tank holds {volume}.";
    public static string ANameIsNeeded(string name) => $"{name}: a name is needed.";
    public static string CapacityEnter(string name, string acceptedVolume) => $"{name}, capacity: enter {acceptedVolume}.";
    public static string RoomAboveFull(string name) => $"{name}, room above Full";
    public static string LengthOf(string name) => $"{name}, length";
    public static string DepthOf(string name) => $"{name}, depth";
    public static string LightAHeightInPercentOf(string name, string label) => $"{name}, light {label}: a height in percent of the tank is needed.";
    public static string HeightOfLight(string name, string label) => $"{name}, height of light {label}";
    public static string NewTank => "New tank";
    public static string TanksUsuallyHold(string name, string capacity, string least, string most) =>
        $"{name} holds {capacity}: tanks usually hold {least} to {most}. A typo?";
    public static string TheTopLightComesOnAt(string name, string light, string headroom, string byHeadroom) =>
        $"{name}: the top light comes on at {light}, but the room above Full ({headroom}) puts it at {byHeadroom}. "
        + "Meter it once: fill until the light comes on, then until it is completely full.";
    public static string TwoSensorsAreAtNearlyThe(string name) => $"{name}: two sensors are at nearly the same height.";
    public static string TheSharesOfTheGraysDo => "The shares of the grays do not add up to 100 %. Leave them empty for equal shares.";
    public static string TheSewerHoseIsLong(string length, string shortest, string longest) =>
        $"The sewer hose is {length} long? Most are {shortest} to {longest}. Check the number and its unit.";
    public static string TheSewerHoseWouldFallCheck(string fall) =>
        $"The sewer hose would fall {fall}. Check the two heights and the length.";
    public static string TheSewerHoseFallsTooLittle(string fall) =>
        $"The sewer hose falls {fall}: too little. Aim for a quarter inch per foot (2 cm per meter), or more; "
        + "support it so that it falls all the way.";
    public static string InPerFoot(string inches) => $"{inches} in per foot";
    public static string CmPerMeter(string centimeters) => $"{centimeters} cm per meter";
}
