using Tanksophos.Words.Pages;

namespace Tanksophos.Words;

/// <summary>What a choice is called on a button, by the code that is sent for it.</summary>
public static class CodeWords
{
    /// <summary>The words for a code of the open formats; codes that are plain English say themselves.</summary>
    public static string Of(string code) => code switch
    {
        "none" => WriteSays.Nothing,
        "built-in" => WriteSays.SprayHead,
        "gray-backfeed" => WriteSays.GrayBackFeed,
        "toilet-on-flush" => WriteSays.ToiletOnFlushing,
        "bath-sink" => WriteSays.BathroomSink,
        "galley-sink" => WriteSays.GalleySink,
        "whole-rig" => WriteSays.TheWholeRig,
        "floor" => WriteSays.NearTheFloor,
        "storage-bay" => WriteSays.StorageBay,
        "valve-wont-close" => WriteSays.ValveWontClose,
        "sight" => WriteSays.Flashlight,
        _ => code.Replace('-', ' ')
    };
}
