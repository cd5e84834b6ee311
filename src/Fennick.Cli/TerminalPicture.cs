using System.Diagnostics;
using System.Globalization;
using System.Text;
using Fennick.Pictures;
using Fennick.Plots;

namespace Fennick.Cli;

/// <summary>How pictures are shown in the terminal.</summary>
internal enum PictureForm
{
    /// <summary>As files alone.</summary>
    Files,

    /// <summary>As characters that are half one colour and half another.</summary>
    Blocks,

    /// <summary>As pixels, by the sequences of DEC's terminals (sixel), which many programs know.</summary>
    Sixel,
}

/// <summary>Shows pictures in the terminal.</summary>
internal static class TerminalPicture
{
    private const int MostColumns = 100;
    private const int CellWidth = 8;
    private const int MostPixels = 900;
    private const int SixelRows = 6;
    private const int MostColours = 255;

    /// <summary>The best form that the terminal knows: asked by the sequence that all answer (DA1, ECMA-48 8.3.24).</summary>
    public static PictureForm Find()
    {
        if (Console.IsOutputRedirected || Environment.GetEnvironmentVariable("TERM") is null or "dumb") return PictureForm.Files;
        return Ask("\e[c").Split(['?', ';', 'c']).Contains("4") ? PictureForm.Sixel : PictureForm.Blocks;
    }

    /// <summary>A picture as text for the terminal.</summary>
    public static string Write(byte[] file, PictureForm form)
    {
        if (Picture.Of(file) is not { } picture) return "";
        var shape = (double)picture.PixelHeight / picture.PixelWidth;
        var columns = Math.Min(MostColumns, Math.Max(20, Terminal.Width - 2));
        if (form == PictureForm.Sixel)
        {
            var across = Math.Min(Math.Min(picture.PixelWidth, columns * CellWidth), MostPixels);
            var down = Math.Max(1, (int)Math.Round(across * shape));
            return Sixel(PictureTools.PixelsOnPaper(file, across, down), across, down);
        }
        // A character is about twice as high as wide, and shows two pixels.
        var rows = Math.Max(1, (int)Math.Round(columns * shape / 2));
        return Blocks(PictureTools.PixelsOnPaper(file, columns, rows * 2), columns, rows);
    }

    private static string Blocks(uint[] pixels, int columns, int rows)
    {
        var hasAll = Environment.GetEnvironmentVariable("COLORTERM") is "truecolor" or "24bit";
        var text = new StringBuilder();
        for (var r = 0; r < rows; r++)
        {
            text.Append("  ");
            var last = "";
            for (var c = 0; c < columns; c++)
            {
                var colours = $"\e[38;{Colour(pixels[(2 * r * columns) + c])};48;{Colour(pixels[(((2 * r) + 1) * columns) + c])}m";
                if (colours != last) text.Append(colours);
                text.Append('▀');
                last = colours;
            }
            text.Append("\e[0m\n");
        }
        return text.ToString();

        // Of 256 colours, 216 are a cube of six steps: 0, 95, 135, 175, 215, 255.
        string Colour(uint pixel) => hasAll ? string.Create(CultureInfo.InvariantCulture, $"2;{(pixel >> 16) & 255};{(pixel >> 8) & 255};{pixel & 255}")
            : string.Create(CultureInfo.InvariantCulture, $"5;{16 + (36 * Step(pixel >> 16)) + (6 * Step(pixel >> 8)) + Step(pixel)}");
        static int Step(uint part) => (part & 255) < 48 ? 0 : Math.Max(1, (int)Math.Round(((part & 255) - 55) / 40.0));
    }

    private static string Sixel(uint[] pixels, int width, int height)
    {
        // Sixteen steps of each colour are told apart; the most frequent keep a place of their own.
        var palette = pixels.Select(Coarse).GroupBy(c => c).OrderByDescending(g => g.Count()).Take(MostColours).Select(g => g.Key).ToArray();
        var places = palette.Select((c, i) => (c, i)).ToDictionary(p => p.c, p => p.i);
        var indices = pixels.Select(p => Coarse(p) is var c && places.TryGetValue(c, out var place) ? place : places[c] = Nearest(palette, c)).ToArray();
        var text = new StringBuilder();
        text.Append(CultureInfo.InvariantCulture, $"\eP0;1q\"1;1;{width};{height}");
        for (var i = 0; i < palette.Length; i++)
            text.Append(CultureInfo.InvariantCulture, $"#{i};2;{Share(palette[i] >> 8)};{Share(palette[i] >> 4)};{Share(palette[i])}");
        for (var top = 0; top < height; top += SixelRows)
        {
            var band = indices.AsSpan(top * width, Math.Min(SixelRows, height - top) * width).ToArray();
            foreach (var colour in band.Distinct().Order())
            {
                text.Append(CultureInfo.InvariantCulture, $"#{colour}");
                var (run, last) = (0, '\0');
                for (var x = 0; x < width; x++)
                {
                    var bits = 0;
                    for (var y = 0; y * width < band.Length; y++)
                        if (band[(y * width) + x] == colour) bits |= 1 << y;
                    var sign = (char)('?' + bits);
                    if (sign != last && run > 0) Append(run, last);
                    run = sign == last ? run + 1 : 1;
                    last = sign;
                }
                Append(run, last);
                text.Append('$');
            }
            text.Append('-');
        }
        return text.Append("\e\\\n").ToString();

        void Append(int run, char sign)
        {
            if (run > 3) text.Append(CultureInfo.InvariantCulture, $"!{run}{sign}");
            else text.Append(sign, run);
        }

        static uint Coarse(uint pixel) => (((pixel >> 20) & 15) << 8) | (((pixel >> 12) & 15) << 4) | ((pixel >> 4) & 15);
        static int Share(uint part) => (int)Math.Round((part & 15) / 15.0 * 100);
    }

    private static int Nearest(uint[] palette, uint colour)
    {
        var nearest = 0;
        for (var i = 1; i < palette.Length; i++)
            if (Distance(palette[i]) < Distance(palette[nearest])) nearest = i;
        return nearest;

        int Distance(uint other) => Square(other >> 8, colour >> 8) + Square(other >> 4, colour >> 4) + Square(other, colour);
        static int Square(uint a, uint b) => ((int)(a & 15) - (int)(b & 15)) is var d ? d * d : 0;
    }

    /// <summary>What the terminal answers to a sequence; nothing if there is none, or it does not answer soon.</summary>
    private static string Ask(string sequence)
    {
        try
        {
            if (Stty("-g") is not { Length: > 0 } before) return "";
            Stty("-icanon -echo min 0 time 3");
            try
            {
                using var terminal = new FileStream("/dev/tty", FileMode.Open, FileAccess.ReadWrite, FileShare.ReadWrite, 0);
                terminal.Write(Encoding.ASCII.GetBytes(sequence));
                var answer = new StringBuilder();
                var one = new byte[1];
                while (answer.Length < 64 && terminal.Read(one) == 1 && answer.Append((char)one[0])[^1] != sequence[^1])
                {
                }
                return answer.ToString();
            }
            finally
            {
                Stty(before);
            }
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException or System.ComponentModel.Win32Exception)
        {
            return "";
        }
    }

    private static string Stty(string arguments)
    {
        using var process = Process.Start(new ProcessStartInfo("stty", $"-F /dev/tty {arguments}") { RedirectStandardOutput = true, RedirectStandardError = true })!;
        var said = process.StandardOutput.ReadToEnd().Trim();
        process.WaitForExit();
        return said;
    }
}
