using Fennick.Testing;

namespace Fennick.Cli.Tests;

/// <summary>What of the survey's example a page of the documentation works with.</summary>
internal static class SurveyCopy
{
    /// <summary>Copies the manuscript of the apiaries, its house and the data.</summary>
    public static void Make(TestFolder folder)
    {
        var survey = Repository.PathOf("examples", "survey");
        foreach (var file in (string[])["apiary.ms.md", "house/larkmere.docx", .. Directory.GetFiles(Path.Combine(survey, "data")).Select(f => $"data/{Path.GetFileName(f)}")])
        {
            Directory.CreateDirectory(Path.GetDirectoryName(folder.File(file))!);
            File.Copy(Path.Combine(survey, file), folder.File(file));
        }
    }
}
