using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Manuscripts;
using Fennick.Manuscripts.Reuse;
using Fennick.Manuscripts.Running;
using Fennick.Outputs;
using Fennick.Testing;
using Xunit;

namespace Fennick.Fuzzing;

/// <summary>Steps that are left out because nothing that they depend on has changed change nothing: a manuscript is written on at random, and every time the view of it says what a run of all its steps says.</summary>
public sealed class ReuseFuzzTests : IDisposable
{
    private const int Few = 60;
    private const int EditsOfOne = 30;
    private readonly TestFolder folder = new();

    public void Dispose() => folder.Dispose();

    [Fact]
    public void A_view_says_what_a_run_of_all_steps_says()
    {
        var edits = LongRun.Times("FENNICK_REUSE", Few);
        var seed = LongRun.Times("FENNICK_FUZZ_SEED", 20251);
        var (reused, ran, failed) = (0, 0, 0);
        for (var m = 0; m * EditsOfOne < edits; m++)
        {
            var random = new Random(seed + m);
            var draft = new RandomDraft(random);
            var memory = new StepMemory();
            var isWrong = false;
            for (var e = 0; e < EditsOfOne; e++)
            {
                if (isWrong) draft.Undo();
                else if (e > 0) draft.Edit();
                folder.Write("m.ms.md", draft.Text);
                folder.Write("numbers.txt", draft.Numbers);
                var path = folder.File("m.ms.md");
                var steps = new List<TriedStep>();
                var seen = Say(() =>
                {
                    var made = Manuscript.Open(path).RunToLookAt(ImmutableDictionary<string, string>.Empty, memory, (_, _) => { }, steps.Add, TestContext.Current.CancellationToken).Made;
                    return (made.Content, made.Diagnostics, made.Outputs);
                });
                var whole = Say(() =>
                {
                    var made = Manuscript.Open(path).Run(stop: TestContext.Current.CancellationToken);
                    return (made.Content, made.Diagnostics, made.Outputs);
                });
                Assert.True(seen == whole, $"seed {seed + m}, edit {e} ({draft.LastEdit}); reused: {string.Join(' ', steps.Where(s => s.IsReused).Select(s => s.Name))}\n\n{draft.Text}\n\nseen:\n{Lacking(seen, whole)}\n\nwhole:\n{Lacking(whole, seen)}");
                reused += steps.Count(s => s.IsReused);
                ran += steps.Count(s => !s.IsReused);
                isWrong = e > 0 && whole.StartsWith("failed", StringComparison.Ordinal);
                if (isWrong) failed++;
            }
        }
        TestContext.Current.TestOutputHelper?.WriteLine($"{edits} edits: {reused} steps reused, {ran} ran; {failed} manuscripts had an error");
        // Where nothing is ever left out, nothing is tested.
        Assert.InRange(reused, ran / 4, int.MaxValue);
        Assert.InRange(failed, 0, edits / 3);
    }

    private static string Lacking(string one, string other) => string.Join('\n', one.Split('\n').Except(other.Split('\n')));

    /// <summary>All that a run says: the page, what deserves attention, what was written to the console; or what was wrong.</summary>
    private static string Say(Func<(ReportContent Content, ImmutableArray<Diagnostic> Diagnostics, ImmutableArray<StepOutput> Outputs)> run)
    {
        try
        {
            var (content, diagnostics, outputs) = run();
            using var page = new MemoryStream();
            var more = ReportWriters.Page.Write(content, page);
            return $"{Lines(diagnostics.Concat(more))}\n{string.Join('\n', outputs.Select(o => $"{o.Step}: {o.Text}"))}\n{Encoding.UTF8.GetString(page.ToArray())}";
        }
        catch (ReportException problem)
        {
            return $"failed\n{Lines(problem.Diagnostics)}";
        }
    }

    /// <summary>What is said of lines: a statement that declares a variable begins at its type, or at its name.</summary>
    private static string Lines(IEnumerable<Diagnostic> diagnostics) => string.Join('\n', diagnostics.Select(d => d with { Place = d.Place is { } place ? place with { Column = 1 } : null }));

    /// <summary>A manuscript of steps that make, use and change things in all the ways that matter, and that somebody edits.</summary>
    private sealed class RandomDraft
    {
        // What a step may be; `#` is a number of its own, `@` a name of its own, and `$kind` a variable of that kind that another step has declared.
        private static readonly (string Kind, string Code)[] Makers =
        [
            ("int", "var @ = #;"), ("int", "int @ = $int + #;"), ("int", "const int @ = #;"), ("int", "int @, @b = #;\n@ = @b * 2;"), ("int", "var @ = $list.Count + $int;"), ("int", "var @ = $fun(#);"), ("int", "var @ = $random.Next(100);"),
            ("int", "var (@, @b) = ($int + #, 2);"), ("int", "int.TryParse(\"#\", out var @);"), ("int", "var @ = $array.Sum() + $array[0];"), ("int", "var @ = (int)$lazy.Sum();"), ("int", "var @ = Once(\"o#\", () => 5 + #);"), ("int", "var @ = Once(\"all\", () => 5 + #);"), ("int", "int @o() => Once(\"all\", () => 7);\nvar @ = @o() + #;"), ("int", "var @ = $anon.Sum(a => a.Weight) + #;"),
            ("int", "var @ = File.ReadAllLines(Inputs.Declare(\"numbers.txt\")).Sum(int.Parse) + #;"), ("int", "int @ = 0;\nforeach (var item in $list) @ += item * #;"), ("int", "var @ = $box.Value + $record.Weight;"), ("int", "var @ = $dict.Values.Sum() + #;"), ("int", "var @ = $counter();"),
            ("int", "int @f(int n) => n + $int;\nvar @ = @f(#);"), ("int", "Console.WriteLine($\"chatter {$int}\");\nvar @ = $int;"),
            ("list", "var @ = new List<int> { #, 2, 3 };"), ("list", "var @ = $array.Where(a => a != #).ToList();"), ("list", "List<int> @ = [.. $list, #];"), ("list", "var @ = $list;"), ("list", "var @ = $anon.Select(a => a.Id).ToList();"),
            ("array", "int[] @ = { #, 1, 4 };"), ("array", "var @ = $list.ToArray();"), ("array", "var @ = $array;"), ("array", "var @ = new[] { #, $int };\n@[0]++;"),
            ("fun", "Func<int, int> @ = x => x * # + $int;"), ("fun", "int @(int x) => x + # + $int;"), ("fun", "Func<int, int> @ = x => $list.Count + x;"),
            ("counter", "var @n = #;\nFunc<int> @ = () => ++@n;"), ("counter", "Func<int> @ = () => $list.Count + #;"), ("counter", "Func<int> @ = () => { $list.Add(#); return $list.Count; };"), ("counter", "var @n = #;\nint @f() => @n++;\nFunc<int> @ = @f;"), ("counter", "int @n = #;\nvoid @s() => @n += 2;\nFunc<int> @ = () => { @s(); return @n; };"), ("counter", "var @n = #;\nFunc<int> @ = () => @n;\n@n += #;"),
            ("random", "var @ = new Random(#);"), ("lazy", "var @ = $list.Select(x => x + #);"), ("lazy", "IEnumerable<int> @ = $array.Where(x => x > 1);"),
            ("anon", "var @ = $list.Select(x => new { Id = x, Weight = x * # }).ToList();"), ("anon", "var @ = $array.Select((x, i) => new { Id = i, Weight = x + # }).ToList();"),
            ("box", "var @ = new Box { Value = # };"), ("box", "var @ = $box;"), ("box", "var @ = new Box { Value = $box.Value + # };"), ("record", "var @ = new Hive(\"h#\", $int);"), ("record", "var @ = $record with { Weight = # };"),
            ("dict", "var @ = new Dictionary<string, int> { [\"a\"] = # };"), ("dict", "var @ = $list.Distinct().ToDictionary(x => $\"k{x}\", x => x + #);"),
        ];

        private static readonly string[] Changers =
        [
            "$list.Add(#);", "$list[0] = #;", "$array[0] += #;", "$box.Value++;", "$box.Add(#);", "$dict[\"n\"] = #;", "$list.Sort();", "Array.Reverse($array);", "$list.RemoveAll(x => x == #);", "foreach (var b in new[] { $box }) b.Value = #;", "var @q = $list;\n@q.Add(#);", "$counter();", "$random.Next();",
            "void @c(List<int> xs) => xs.Add(#);\n@c($list);", "Box.Shift($box, #);", "System.Threading.Thread.Sleep(0);", "if ($int > #) $list.Add(1);", "Array.Sort($array);\nvar @s = $array.Length;",
        ];

        private static readonly string[] Shown = ["{$int}", "{$list.Count} and {$list.Sum()}", "{$array[0]:0.0}", "{$fun(#)}", "{$lazy.Sum()}", "{$box.Value}", "{$record}", "{$dict.Count}", "{$counter()}", "{string.Join(\", \", $list)}", "{$anon.Count}", "{$anon[0]}", "{if $int > #}high{else}low{end}"];

        private readonly Random random;
        private readonly List<string> parts = [];
        private readonly Dictionary<string, List<string>> names = [];
        private string[] before = [];
        private int next;
        private string numbers = "1\n2\n";
        private bool hasOtherTypes;

        public RandomDraft(Random random)
        {
            this.random = random;
            foreach (var kind in new[] { "int", "list", "array", "fun", "counter", "random", "lazy", "anon", "box", "record", "dict" }) Insert(parts.Count, Step(Makers.Where(m => m.Kind == kind).First(m => !Uses(m.Code))));
            for (var i = 0; i < 8; i++) Insert(parts.Count, Any());
            before = [.. parts];

            bool Uses(string code) => code.Contains('$', StringComparison.Ordinal) && names.Count < 11 && System.Text.RegularExpressions.Regex.Matches(code, @"\$([a-z]+)").Any(m => !names.ContainsKey(m.Groups[1].Value));
        }

        /// <summary>Takes the last edit back.</summary>
        public void Undo()
        {
            parts.Clear();
            parts.AddRange(before);
            LastEdit = $"taken back: {LastEdit}";
        }

        public string LastEdit { get; private set; } = "";

        public string Numbers => numbers;

        public string Text => $"# A draft\n\n```csharp prepare types\nrecord Hive(string Name, int Weight);\nclass Box {{ public int Value {{ get; set; }} public void Add(int n) => Value += n; public static void Shift(Box box, int n) => box.Value += n; }}\n{(hasOtherTypes ? "enum Other { A }\n" : "")}```\n\n" + string.Join("\n\n", parts) + "\n";

        public void Edit()
        {
            before = [.. parts];
            var at = random.Next(parts.Count);
            switch (random.Next(12))
            {
                case 0 or 1 or 2:
                    LastEdit = $"part {at} has another number";
                    parts[at] = System.Text.RegularExpressions.Regex.Replace(parts[at], @"(?<![\w.])\d+(?!\w)", _ => Number());
                    break;
                case 3 or 4:
                    LastEdit = $"a part comes in at {at}";
                    Insert(at, Any());
                    break;
                case 5:
                    LastEdit = $"part {at} goes";
                    parts.RemoveAt(at);
                    break;
                case 6:
                    var other = random.Next(parts.Count);
                    LastEdit = $"parts {at} and {other} change places";
                    (parts[at], parts[other]) = (parts[other], parts[at]);
                    break;
                case 7:
                    LastEdit = "a sentence";
                    Insert(at, $"A sentence, the {Number()}th.");
                    break;
                case 8:
                    LastEdit = "the file";
                    numbers = $"{Number()}\n{Number()}\n{Number()}\n";
                    break;
                case 9:
                    LastEdit = "the types";
                    hasOtherTypes = !hasOtherTypes;
                    break;
                case 10:
                    LastEdit = $"part {at} is written twice";
                    if (!parts[at].Contains("```", StringComparison.Ordinal)) Insert(at, parts[at]);
                    break;
                default:
                    LastEdit = "nothing";
                    break;
            }
        }

        private void Insert(int at, string part) => parts.Insert(at, part);

        private string Any() => random.Next(10) switch
        {
            < 4 => Step(Makers[random.Next(Makers.Length)]),
            < 6 => Fence("prepare", Filled(Changers[random.Next(Changers.Length)])),
            < 9 => $"It is {Filled(Shown[random.Next(Shown.Length)])} here.",
            _ => random.Next(3) switch
            {
                0 => $"{{for each x in {Filled("$list")}.Take(3)}}\n\nOf {{x}}.\n\n{{end}}",
                1 => Fence("table", Filled("Table.Of($anon).Column(\"Id\", a => a.Id).Column(\"Weight\", a => a.Weight)")),
                _ => Fence("text", Filled("$\"Words of {$int} and {$list.Count}.\"")),
            },
        };

        private string Step((string Kind, string Code) maker)
        {
            var code = Filled(maker.Code);
            var name = $"v{next}";
            if (!names.TryGetValue(maker.Kind, out var known)) names[maker.Kind] = known = [];
            known.Add(name);
            return Fence("prepare", code);
        }

        private static string Fence(string role, string code) => $"```csharp {role}\n{code}\n```";

        private string Filled(string code)
        {
            var own = $"v{++next}";
            code = code.Replace("@", own, StringComparison.Ordinal).Replace("#", Number(), StringComparison.Ordinal);
            return System.Text.RegularExpressions.Regex.Replace(code, @"\$(int|list|array|fun|counter|random|lazy|anon|box|record|dict)", m => names.TryGetValue(m.Groups[1].Value, out var known) ? known[random.Next(known.Count)] : "0");
        }

        private string Number() => random.Next(1, 60).ToString(CultureInfo.InvariantCulture);
    }
}
