using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using Fennick.Data;
using Fennick.Manuscripts.Steps;

namespace Fennick.Manuscripts.Compilation;

/// <summary>The key of a manuscript's compiled form: all that its program depends on, and nothing of its prose.</summary>
internal static class ProgramKey
{
    public static string Of(ManuscriptTree tree, LibrarySet libraries)
    {
        var text = new StringBuilder();
        Add("runtime", Environment.Version.ToString());
        foreach (var assembly in new[] { typeof(Report).Assembly, typeof(Csv).Assembly, typeof(ProgramKey).Assembly })
            Add("assembly", assembly.ManifestModule.ModuleVersionId.ToString());
        foreach (var reference in References.Own)
        {
            var file = new FileInfo(reference);
            // The compiler itself is not a reference of the program: a cached program runs without it.
            if (!file.Name.StartsWith("Microsoft.CodeAnalysis", StringComparison.Ordinal))
                Add("reference", string.Create(CultureInfo.InvariantCulture, $"{file.Name} {file.Length} {file.LastWriteTimeUtc.Ticks}"));
        }
        Add("libraries", libraries.Key);
        foreach (var name in tree.Settings.Usings) Add("using", name);
        foreach (var parameter in tree.Settings.Parameters) Add("parameter", $"{parameter.CSharpType} {parameter.Name}");
        foreach (var unit in tree.Units.Where(u => !u.Executables.IsEmpty))
        {
            Add("unit", "");
            foreach (var executable in unit.Executables) AddExecutable(executable);
        }
        foreach (var executable in tree.LateProse.SelectMany(p => p.Executables)) AddExecutable(executable);
        return Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text.ToString())));

        void AddExecutable(Executable executable)
        {
            switch (executable)
            {
                case ValueHole hole:
                    Add("value", hole.Expression);
                    break;
                case Step step:
                    Add(step.Role.ToString(), step.Code.Text);
                    if (step.Script is { } script) Add("script", script.Reads is null ? "any" : "declared");
                    foreach (var hole in step.Script?.Values ?? []) AddExecutable(hole);
                    foreach (var hole in step.Label?.Values ?? []) AddExecutable(hole);
                    foreach (var inner in step.Head.Prose.SelectMany(p => p.Executables)) AddExecutable(inner);
                    break;
                case Control control:
                    foreach (var (head, body) in control.Branches)
                    {
                        Add(head.Kind.ToString(), head.Text);
                        foreach (var inner in body) AddExecutable(inner);
                        Add("end", "");
                    }
                    break;
            }
        }

        // Lengths keep two different programs from having one text.
        void Add(string kind, string content) => text.Append(CultureInfo.InvariantCulture, $"{kind} {content.Length}\n{content}\n");
    }
}
