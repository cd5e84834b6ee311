using System.Diagnostics;
using System.Globalization;
using System.Text;

namespace Fennick.Bench;

/// <summary><c>fennick watch</c>, warm: what passes from the moment a manuscript is saved until the page is told, at 12 and at 200 pages; a changed last step behind a first one that takes long; memory over many edits. Build the command in Release first.</summary>
internal static class WatchBenchmark
{
    private const int Edits = 30;
    private const int ManyEdits = 1000;
    private static readonly TimeSpan FirstStep = TimeSpan.FromSeconds(20);

    public static int Run()
    {
        var program = Path.GetFullPath(Path.Combine(AppContext.BaseDirectory, "..", "..", "..", "..", "..", "src", "Fennick.Cli", "bin", "Release", "net10.0", "Fennick.Cli"));
        if (!File.Exists(program))
        {
            Console.Error.WriteLine($"{program} is not there; build it: dotnet build -c Release src/Fennick.Cli");
            return 1;
        }
        var folder = Directory.CreateTempSubdirectory("fennick-bench-watch-").FullName;
        try
        {
            foreach (var (pages, target) in new[] { (12, 100), (200, 250) })
            {
                using var watch = new Watched(program, folder, Prose(pages));
                var times = Enumerable.Range(0, Edits).Select(i => watch.Edit($"{Prose(pages)}\nSentence {i} of the edits.\n", $"Sentence {i} of")).Order().ToArray();
                Console.WriteLine($"a sentence at {watch.Pages} pages: {times[Edits / 2]:0} ms in the middle, {times[Edits * 9 / 10]:0} ms for nine of ten (target: at most {target})");
            }
            string Steps(int n) => $"```manuscript\ntitle: Steps\n```\n\n```csharp prepare slow\nSystem.Threading.Thread.Sleep({FirstStep.TotalMilliseconds:0});\nvar slow = Enumerable.Range(1, 100).Select(i => new {{ Id = i, Weight = i * 1.5 }}).ToList();\n```\n\n{Prose(12, hasSettings: false)}\n\n```csharp prepare last\nvar last = slow.Sum(s => s.Weight) * {n};\n```\n\nThe last is {{last:0.0}} of {n}.\n";
            using (var watch = new Watched(program, folder, Steps(1)))
            {
                watch.Edit(Steps(2), "of 2.");
                var times = Enumerable.Range(3, 10).Select(n => watch.Edit(Steps(n), $"of {n}.")).Order().ToArray();
                Console.WriteLine($"a changed last step where the first takes {FirstStep.TotalSeconds:0} s: {times[5]:0} ms in the middle (target: at most 400)");
            }
            using (var watch = new Watched(program, folder, Prose(12)))
            {
                for (var i = 0; i < 100; i++) watch.Edit($"{Prose(12)}\nSentence {i} of the edits, of {{1 + {i}}}.\n", $"Sentence {i} of");
                var early = watch.Memory;
                for (var i = 100; i < ManyEdits; i++) watch.Edit($"{Prose(12)}\nSentence {i} of the edits, of {{1 + {i}}}.\n", $"Sentence {i} of");
                Console.WriteLine($"memory of all its processes after 100 and {ManyEdits} edits, each of which compiles: {early >> 20} and {watch.Memory >> 20} MB, ratio {(double)watch.Memory / early:0.00} (target: at most 1.2)");
            }
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
        return 0;
    }

    private static string Prose(int pages, bool hasSettings = true)
    {
        var text = new StringBuilder(hasSettings ? "```manuscript\ntitle: Watched\n```\n\n" : "").Append("{contents}\n\n```csharp prepare\nvar hives = Enumerable.Range(1, 40).Select(i => new { Name = $\"Hive {i}\", Honey = 20 + i * 0.3 }).ToList();\n```\n\n");
        for (var page = 1; page <= pages; page++)
        {
            text.Append(CultureInfo.InvariantCulture, $"# Chapter {page}\n\n");
            for (var p = 0; p < 7; p++) text.Append("The hives of the valley gave {hives.Average(h => h.Honey):0.0} kg each, which is more than the year before; the best gave {hives.Max(h => h.Honey):0.0} kg, and those that stood in the shade of the lime trees beside the road to the mill gave less than all the others did. ").Append("The year was dry, and the bees flew far. ").Append("\n\n");
            if (page % 3 == 0) text.Append(CultureInfo.InvariantCulture, $"```csharp table hives{page}\ncaption: Hives {page}\n=>\nTable.Of(hives.Take(6)).Column(\"Hive\", h => h.Name).Column(\"Honey (kg)\", h => h.Honey, \"0.0\")\n```\n\n");
        }
        return text.ToString();
    }

    /// <summary>A running watch, from the side of its page.</summary>
    private sealed class Watched : IDisposable
    {
        private readonly Process process;
        private readonly string file;
        private readonly HttpClient client = new() { Timeout = Timeout.InfiniteTimeSpan };
        private readonly StreamReader events;

        public Watched(string program, string folder, string text)
        {
            file = Path.Combine(folder, "m.ms.md");
            File.WriteAllText(file, text);
            process = Process.Start(new ProcessStartInfo(program, ["watch", "m.ms.md"]) { WorkingDirectory = folder, RedirectStandardOutput = true, RedirectStandardError = true })!;
            process.ErrorDataReceived += (_, _) => { };
            process.BeginErrorReadLine();
            events = new StreamReader(client.GetStreamAsync(new Uri(process.StandardOutput.ReadLine()! + "events")).Result);
            WaitFor(line => line.Contains("\"pages\":", StringComparison.Ordinal));
            WaitFor(line => line.Contains("docx", StringComparison.Ordinal));
        }

        public int Pages { get; private set; }

        /// <summary>What the processes take together.</summary>
        public long Memory
        {
            get
            {
                using var ps = Process.Start(new ProcessStartInfo("ps", ["--ppid", process.Id.ToString(CultureInfo.InvariantCulture), "-o", "rss="]) { RedirectStandardOutput = true })!;
                var children = ps.StandardOutput.ReadToEnd().Split('\n', StringSplitOptions.RemoveEmptyEntries).Sum(l => long.Parse(l.Trim(), CultureInfo.InvariantCulture) * 1024);
                process.Refresh();
                return children + process.WorkingSet64;
            }
        }

        /// <summary>Saves the manuscript and waits until the page shows these words; the result is how long that took, in milliseconds.</summary>
        public double Edit(string text, string words)
        {
            var watch = Stopwatch.StartNew();
            File.WriteAllText(file, text);
            WaitFor(line => line.Contains("\"html\":", StringComparison.Ordinal) && line.Contains(words.Split(" of")[0], StringComparison.Ordinal));
            var took = watch.Elapsed.TotalMilliseconds;
            // The document is written behind the page.
            WaitFor(line => line.StartsWith("data: {\"path\":", StringComparison.Ordinal));
            return took;
        }

        public void Dispose()
        {
            client.Dispose();
            process.Kill(entireProcessTree: true);
            process.WaitForExit();
            process.Dispose();
        }

        private void WaitFor(Func<string, bool> isWanted)
        {
            while (events.ReadLine() is { } line)
            {
                if (line.IndexOf("\"pages\":", StringComparison.Ordinal) is >= 0 and var at) Pages = int.Parse(new string([.. line.Skip(at + 8).TakeWhile(char.IsAsciiDigit)]), CultureInfo.InvariantCulture);
                if (line.StartsWith("data: ", StringComparison.Ordinal) && isWanted(line)) return;
            }
            throw new EndOfStreamException("The watch has ended.");
        }
    }
}
