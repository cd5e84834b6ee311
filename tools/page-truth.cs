// Are the page numbers in contents, lists and references true? Writes documents of all kinds of blocks, has the word processor from Debian's packages lay them out, and prints a table:
//   dotnet run tools/page-truth.cs -- SEED COUNT [KIND…]
// Needs libreoffice-writer-nogui and poppler-utils.
#:project ../src/Fennick
#:project ../tests/Fennick.Testing
#:property PublishAot=false
using System.Globalization;
using Fennick.Testing;

var (seed, count) = (int.Parse(args[0], CultureInfo.InvariantCulture), int.Parse(args[1], CultureInfo.InvariantCulture));
using var folder = new TestFolder();
var pages = TruthDocuments.Write(folder.Path, seed, count, args[2..]);
var checks = Directory.GetFiles(folder.Path, "*.docx").Order().Select(d => (Document: d, Said: PagesSaid(d), Found: PageTruth.Check(d))).ToArray();
var all = checks.SelectMany(c => c.Found.Pages).ToArray();
Console.WriteLine("| | entries | on the true page | one off | more |\n|---|---:|---:|---:|---:|");
foreach (var house in all.GroupBy(p => p.Document.Split('-')[0])) Row(house.Key, house);
foreach (var depth in all.GroupBy(p => p.Real <= 5 ? "pages 1–5" : p.Real <= 15 ? "pages 6–15" : p.Real <= 40 ? "pages 16–40" : "pages beyond 40").OrderBy(g => g.Min(p => p.Real))) Row(depth.Key, depth);
Row("all", all);
Console.WriteLine($"\n{checks.Count(c => c.Said == c.Found.Count)} of {checks.Length} page counts are true.");
Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"Of a page that ends because what comes next has no room, {100 * pages.Where(p => p.Count > 1).Average(p => p.EmptyShare):0.0} % stay empty on average."));

static void Row(string name, IEnumerable<PrintedPage> some)
{
    var pages = some.ToArray();
    Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"| {name} | {pages.Length} | {100.0 * pages.Count(p => p.Printed == p.Real) / pages.Length:0.0} % | {pages.Count(p => Math.Abs(p.Printed - p.Real) == 1)} | {pages.Count(p => Math.Abs(p.Printed - p.Real) > 1)} |"));
}

static int PagesSaid(string document) => int.Parse(Docx.Open(document).Xml("docProps/app.xml").Root!.Elements().First(e => e.Name.LocalName == "Pages").Value, CultureInfo.InvariantCulture);
