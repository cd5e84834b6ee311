using Fennick.Testing;
using Xunit;

namespace Fennick.Tests;

/// <summary>Page numbers in contents, lists and references are those of the pages on which the word processor from Debian's packages puts their targets.</summary>
public sealed class PageTruthTests
{
    private const double LeastShare = 0.97;

    [Fact]
    public void Contents_lists_and_references_name_true_pages()
    {
        SlowSet.Enter();
        using var folder = new TestFolder();
        TruthDocuments.Write(folder.Path, seed: 7, count: 16);
        var pages = Directory.GetFiles(folder.Path, "*.docx").SelectMany(d => PageTruth.Check(d).Pages).ToArray();
        var wrong = pages.Where(p => p.Printed != p.Real).ToArray();
        Assert.True(pages.Length > 200 && wrong.Length <= (1 - LeastShare) * pages.Length, $"{wrong.Length} of {pages.Length}: {string.Join("; ", wrong.Take(20))}");
    }

    [Theory]
    [InlineData("text")]
    [InlineData("lists")]
    [InlineData("tables")]
    [InlineData("figures")]
    [InlineData("equations")]
    [InlineData("quotations")]
    [InlineData("listings")]
    public void Each_kind_of_block_takes_the_room_that_it_takes(string kind)
    {
        SlowSet.Enter();
        using var folder = new TestFolder();
        TruthDocuments.Write(folder.Path, seed: 8, count: 4, kind);
        foreach (var document in Directory.GetFiles(folder.Path, "*.docx")) Assert.All(PageTruth.Check(document).Pages, p => Assert.InRange(p.Printed, p.Real - 1, p.Real + 1));
    }
}
