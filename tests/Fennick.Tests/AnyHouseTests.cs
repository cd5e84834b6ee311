using System.IO.Compression;
using System.Text.RegularExpressions;
using Fennick.Diagnostics;
using Fennick.Testing;
using Xunit;

namespace Fennick.Tests;

/// <summary>Whatever has happened to a house's file, it works, or it is refused with a reason.</summary>
public sealed class AnyHouseTests : IDisposable
{
    private const int Tries = 60;
    private static readonly string[] Values = ["\"\"", "\"-1\"", "\"99999999999\"", "\"x\"", "\"NaN\""];
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void A_house_works_or_is_refused(int seed)
    {
        var random = new Random(seed);
        var sound = File.ReadAllBytes(Repository.PathOf("examples", "survey", "house", "larkmere.docx"));
        var path = folder.File("house.docx");
        var refused = 0;
        for (var i = 0; i < Tries; i++)
        {
            if (i % 3 == 0) File.WriteAllBytes(path, Damaged(sound, random));
            else
            {
                File.WriteAllBytes(path, sound);
                ChangeXml(path, random);
            }
            try
            {
                (House.Read(path) with { KeepsContents = (i % 4) switch { 0 => true, 1 => false, _ => null }, Accent = i % 5 == 0 ? "#336699" : null }).Specimen().Save(folder.File("report.docx"));
            }
            catch (ReportException problem)
            {
                refused++;
                Assert.StartsWith($"{path}:1:1: ", problem.Message, StringComparison.Ordinal);
            }
        }
        Assert.InRange(refused, 1, Tries - 1);
    }

    private static byte[] Damaged(byte[] sound, Random random)
    {
        var bytes = sound.ToArray();
        for (var k = 0; k < 1 + random.Next(6); k++) bytes[random.Next(bytes.Length)] = (byte)random.Next(256);
        return random.Next(4) == 0 ? bytes[..random.Next(bytes.Length)] : bytes;
    }

    /// <summary>Takes out or doubles elements of a part, and gives attributes values that nobody expects.</summary>
    private static void ChangeXml(string path, Random random)
    {
        using var zip = ZipFile.Open(path, ZipArchiveMode.Update);
        var names = zip.Entries.Select(e => e.FullName).Where(n => Regex.IsMatch(n, @"\.(xml|rels)$")).ToArray();
        var entry = zip.GetEntry(names[random.Next(names.Length)])!;
        string text;
        using (var reader = new StreamReader(entry.Open())) text = reader.ReadToEnd();
        for (var k = 0; k < 3; k++)
        {
            var elements = Regex.Matches(text, "<[^?!/][^<>]*/>");
            var values = Regex.Matches(text, "\"[^\"<>]{1,40}\"");
            var changes = random.Next(2) == 0 && elements.Count > 0;
            var old = changes ? elements[random.Next(elements.Count)].Value : values[random.Next(values.Count)].Value;
            text = text.Replace(old, changes ? random.Next(2) == 0 ? "" : old + old : Values[random.Next(Values.Length)], StringComparison.Ordinal);
        }
        entry.Delete();
        using var writer = new StreamWriter(zip.CreateEntry(entry.FullName).Open());
        writer.Write(text);
    }
}
