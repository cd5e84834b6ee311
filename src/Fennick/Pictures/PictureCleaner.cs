using System.Buffers.Binary;
using Fennick.Diagnostics;

namespace Fennick.Pictures;

/// <summary>Takes out of pictures what says where, when, with what and by whom they were made, and refuses those that are cut off.</summary>
internal static class PictureCleaner
{
    private const int SignatureLength = 8;
    private const int Orientation = 0x0112;

    // What a reader needs to show a PNG as it was meant: PNG specification, third edition, §11.
    private static readonly HashSet<string> Shown = ["IHDR", "PLTE", "IDAT", "IEND", "tRNS", "cHRM", "gAMA", "iCCP", "sBIT", "sRGB", "cICP", "mDCV", "cLLI", "bKGD", "pHYs", "sPLT", "hIST", "acTL", "fcTL", "fdAT"];

    /// <summary>The same PNG without texts, times and camera data.</summary>
    /// <exception cref="ReportException">It is cut off.</exception>
    public static byte[] CleanPng(ReadOnlySpan<byte> bytes)
    {
        var clean = new List<byte>(bytes.Length);
        clean.AddRange(bytes[..SignatureLength]);
        var hasData = false;
        for (var at = SignatureLength; at + 12 <= bytes.Length;)
        {
            var length = BinaryPrimitives.ReadUInt32BigEndian(bytes[at..]);
            hasData |= bytes.Slice(at + 4, 4).SequenceEqual("IDAT"u8);
            if (at + 12 + (long)length > bytes.Length) throw CutOff();
            var chunk = bytes.Slice(at, 12 + (int)length);
            var type = System.Text.Encoding.Latin1.GetString(chunk.Slice(4, 4));
            if (Shown.Contains(type)) clean.AddRange(chunk);
            if (type == "IEND") return hasData ? [.. clean] : throw CutOff();
            at += chunk.Length;
        }
        throw CutOff();
    }

    /// <summary>The same JPEG without camera data, comments and what programs add; how it is turned stays (ITU-T T.81, annex B).</summary>
    /// <exception cref="ReportException">It is cut off.</exception>
    public static byte[] CleanJpeg(ReadOnlySpan<byte> bytes)
    {
        var end = bytes.LastIndexOf((ReadOnlySpan<byte>)[0xFF, 0xD9]);
        if (end < 0) throw CutOff();
        var clean = new List<byte>(bytes.Length);
        clean.AddRange(bytes[..2]);
        var rest = 2;
        for (var at = 2; at + 4 <= bytes.Length && bytes[at] == 0xFF;)
        {
            var marker = bytes[at + 1];
            // Fill bytes, and marks without content.
            if (marker == 0xFF)
            {
                at++;
                continue;
            }
            if (marker is 0xD8 or 0x01 or (>= 0xD0 and <= 0xD7))
            {
                at += 2;
                continue;
            }
            var length = BinaryPrimitives.ReadUInt16BigEndian(bytes[(at + 2)..]);
            if (marker is 0xDA or 0xD9 || length < 2 || at + 2 + length > bytes.Length)
            {
                if (marker is not (0xDA or 0xD9)) throw CutOff();
                clean.AddRange(bytes[at..(end + 2)]);
                return [.. clean];
            }
            var segment = bytes.Slice(at, 2 + length);
            var content = segment[4..];
            if (marker == 0xE1 && content.StartsWith("Exif\0\0"u8) && TurnOf(content[6..]) is > 1 and <= 8 and var turn) clean.AddRange(Turned(turn));
            // JFIF, colour profiles and Adobe's mark say how to show it.
            if (marker is not (>= 0xE0 and <= 0xEF or 0xFE) || marker == 0xE0 || marker == 0xEE || (marker == 0xE2 && content.StartsWith("ICC_PROFILE"u8))) clean.AddRange(segment);
            at += segment.Length;
            rest = at;
        }
        // What is not made of segments is left as it is.
        clean.AddRange(bytes[rest..(end + 2)]);
        return [.. clean];
    }

    /// <summary>Whether it is a JPEG of a camera that was not held upright.</summary>
    public static bool IsTurned(ReadOnlySpan<byte> bytes)
    {
        if (!bytes.StartsWith((ReadOnlySpan<byte>)[0xFF, 0xD8])) return false;
        for (var at = 2; at + 4 <= bytes.Length && bytes[at] == 0xFF && bytes[at + 1] is >= 0xE0 and <= 0xEF or 0xFE or 0xDB;)
        {
            var length = BinaryPrimitives.ReadUInt16BigEndian(bytes[(at + 2)..]);
            if (length < 2 || at + 2 + length > bytes.Length) return false;
            var content = bytes[(at + 4)..(at + 2 + length)];
            if (bytes[at + 1] == 0xE1 && content.StartsWith("Exif\0\0"u8)) return TurnOf(content[6..]) is > 1 and <= 8;
            at += 2 + length;
        }
        return false;
    }

    private static ReportException CutOff() => new(Diagnostic.Error(null, "the picture is damaged: it is cut off", "copy or save it anew"));

    /// <summary>How a camera was held (Exif 2.32, §4.6.4): 1 is upright.</summary>
    private static int TurnOf(ReadOnlySpan<byte> tiff)
    {
        if (tiff.Length < 14) return 1;
        var isLittle = tiff.StartsWith("II"u8);
        var directory = (long)Read32(tiff[4..], isLittle);
        if (directory + 2 > tiff.Length) return 1;
        var entries = Read16(tiff[(int)directory..], isLittle);
        for (var i = 0; i < entries; i++)
        {
            var at = directory + 2 + (12L * i);
            if (at + 12 > tiff.Length) return 1;
            if (Read16(tiff[(int)at..], isLittle) == Orientation) return Read16(tiff[(int)(at + 8)..], isLittle);
        }
        return 1;
    }

    private static byte[] Turned(int turn) => [0xFF, 0xE1, 0, 34, .. "Exif\0\0"u8, .. "MM\0*"u8, 0, 0, 0, 8, 0, 1, 0x01, 0x12, 0, 3, 0, 0, 0, 1, 0, (byte)turn, 0, 0, 0, 0, 0, 0];

    private static ushort Read16(ReadOnlySpan<byte> bytes, bool isLittle) => isLittle ? BinaryPrimitives.ReadUInt16LittleEndian(bytes) : BinaryPrimitives.ReadUInt16BigEndian(bytes);

    private static uint Read32(ReadOnlySpan<byte> bytes, bool isLittle) => isLittle ? BinaryPrimitives.ReadUInt32LittleEndian(bytes) : BinaryPrimitives.ReadUInt32BigEndian(bytes);
}
