using System.Text;
using Fennick.Diagnostics;
using Fennick.Testing;
using Xunit;

namespace Fennick.Fuzzing;

/// <summary>What all fuzz tests share: how long they run, and what counts as a fault.</summary>
internal static class Fuzz
{
    // Text of all planes, marks of all languages that Fennick reads, and what programs stumble over.
    private static readonly string[] Pieces =
    [
        "\0", "\u0001", "\u001b[2J", "\t", "\n", "\r\n", "\u0085", "\u2028", "\u00A0", "\u200F", "\u202E", "\uFEFF", "\uFFFE", "\uFFFF", "\uFDD0", "\uE0F0", "\uD800", "\uDC00", "\U0001F41D", "\U000F0000", "\U0010FFFF", "e\u0301", "Ω", "ß", "İ", "ﷺ",
        "{", "}", "{{", "\\{", "{x}", "{1 + 1:0.0}", "{end}", "{if true}", "{see a}", "{include x}", "```", "```manuscript\n", "~~~", "|", "a|b\n-|-\n", "*", "**", "_", "`", "[", "](", "[^a]", "![", "<", "<!--", "&amp;", "&#0;", ">", "- ", "1. ", "# ", "$", "$$", "\\", "\\frac", "\\live{", "^", "\"", "\"\"", "'", ",", ";", ":", "=", "=cmd", "@", "+", "-",
        "0", "1", "-1", "1e400", "NaN", "∞", "0.0", "#,0", "P2", "N99", "percent 1", "unit kg", "money EUR", "2025-11-03", "9999-12-31", "0001-01-01", "true", "null", "NA", "\"a\":", "[{", "}]", "../", "/etc/passwd", "~", "%00", "CON",
    ];

    /// <summary>How many tries a test makes: few in every run, as many as FENNICK_FUZZ says in a long one.</summary>
    public static int Tries(int few) => LongRun.Times("FENNICK_FUZZ", few);

    /// <summary>The source of chance of a test: the same in every run, and another one for each FENNICK_FUZZ_SEED.</summary>
    public static Random Random(int test) => new(test + (1000 * LongRun.Times("FENNICK_FUZZ_SEED", 0)));

    /// <summary>One of the pieces.</summary>
    public static string Piece(Random random) => Pieces[random.Next(Pieces.Length)];

    /// <summary>Text that is put together from pieces.</summary>
    public static string Text(Random random, int longest = 30) => string.Concat(Enumerable.Range(0, random.Next(longest)).Select(_ => random.Next(4) == 0 ? ((char)random.Next(32, 0x600)).ToString() : Pieces[random.Next(Pieces.Length)]));

    /// <summary>The same bytes with some changed, left out, doubled or cut off.</summary>
    public static byte[] Mutate(byte[] sound, Random random)
    {
        var bytes = sound.ToList();
        for (var changes = random.Next(1, 6); changes > 0 && bytes.Count > 0; changes--)
        {
            var at = random.Next(bytes.Count);
            var length = Math.Min(random.Next(1, 20), bytes.Count - at);
            switch (random.Next(5))
            {
                case 0: bytes[at] = (byte)random.Next(256); break;
                case 1: bytes.RemoveRange(at, length); break;
                case 2: bytes.InsertRange(at, bytes.GetRange(at, length)); break;
                case 3: bytes.InsertRange(at, Encoding.UTF8.GetBytes(Pieces[random.Next(Pieces.Length)])); break;
                default:
                    if (random.Next(4) == 0) bytes.RemoveRange(at, bytes.Count - at);
                    break;
            }
        }
        return [.. bytes];
    }

    /// <summary>Does something that may be refused in words, but in no other way.</summary>
    /// <returns>Whether it was done.</returns>
    public static bool IsDone(string what, Action action)
    {
        try
        {
            action();
            return true;
        }
        catch (ReportException problem)
        {
            Assert.All(problem.Diagnostics, d => Assert.False(string.IsNullOrWhiteSpace(d.Message), what));
            Assert.DoesNotContain("something is wrong in Fennick", problem.Message, StringComparison.Ordinal);
            Assert.DoesNotContain("that Fennick has made is not sound", problem.Message, StringComparison.Ordinal);
            return false;
        }
        catch (Exception problem)
        {
            Assert.Fail($"{what}: {problem}");
            throw;
        }
    }
}
