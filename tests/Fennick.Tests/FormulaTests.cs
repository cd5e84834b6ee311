using System.Xml.Linq;
using Fennick.Diagnostics;
using Fennick.Documents;
using Fennick.Mathematics;
using Fennick.Testing;
using Xunit;
using static Fennick.Inlines;

namespace Fennick.Tests;

/// <summary>Formulas in TeX notation become native ones.</summary>
public sealed class FormulaTests
{
    private static readonly XNamespace M = "http://schemas.openxmlformats.org/officeDocument/2006/math";
    private static readonly XNamespace W = Docx.W;

    private const string Signs = """
        alpha beta gamma delta epsilon varepsilon zeta eta theta vartheta iota kappa lambda mu nu xi pi varpi rho varrho sigma varsigma tau upsilon phi varphi chi psi omega Gamma Delta Theta Lambda Xi Pi Sigma
        Upsilon Phi Psi Omega infty nabla partial forall exists emptyset neg hbar ell Re Im aleph dagger star bullet circ ldots cdots vdots ddots langle rangle lfloor rfloor lceil rceil pm mp times div cdot cup cap
        setminus wedge vee oplus otimes leq geq neq equiv approx sim simeq cong propto ll gg in ni notin subset supset subseteq supseteq mid parallel perp to rightarrow leftarrow Rightarrow Leftrightarrow mapsto
        sin cos tan log ln exp arcsin sinh max min sup inf lim limsup arg det dim ker gcd Pr argmax quad qquad
        """;

    private static Docx Save(Report report)
    {
        using var folder = new TestFolder();
        report.Save(folder.File("f.docx"));
        return WordClean.Check(folder.File("f.docx"));
    }

    /// <summary>A formula's structure: the names of elements around the text of runs, without their properties but for signs.</summary>
    private static string Show(XElement element) => element.Name.LocalName switch
    {
        "r" => (element.Element(M + "rPr") is { } properties ? properties.Elements().Select(p => $"{(string?)p.Attribute(M + "val") ?? "words"}'").Aggregate("", (a, b) => a + b) : "") + element.Element(M + "t")!.Value,
        var name when name.EndsWith("Pr", StringComparison.Ordinal) => string.Concat(element.Elements().Where(e => e.Name.LocalName is "chr" or "begChr" or "endChr" or "limLoc" or "pos" or "type").Select(e => $"<{(string?)e.Attribute(M + "val")}>")),
        "oMath" or "oMathPara" or "e" => string.Concat(element.Elements().Select(Show)),
        var name => $"{name}[{string.Join("|", element.Elements().Select(Show).Where(s => s.Length > 0))}]",
    };

    [Fact]
    public void Every_letter_has_a_run_of_its_own_and_spaces_are_words()
    {
        var runs = Save(new Report().Text($"A {Tex(@"y_{it} \quad 2.5x")}.")).Body.Descendants(M + "r").Select(r => (r.Element(M + "t")!.Value, r.Element(M + "rPr")?.Element(M + "nor") is not null));
        Assert.Equal([("y", false), ("i", false), ("t", false), ("\u2003", true), ("2.5", false), ("x", false)], runs);
    }

    [Fact]
    public void A_wide_formula_breaks_at_relations_and_terms_and_one_that_cannot_is_told()
    {
        var docx = Save(new Report().Add(new Equation(Formula.Of(@"y = a + b = " + string.Join(" + ", Enumerable.Range(1, 20).Select(i => $@"\beta_{{{i}}} x_{{{i}}}"))))));
        var lines = docx.Body.Descendants(M + "mr").Select(r => string.Concat(r.Descendants(M + "t").Select(t => t.Value.Trim('\u200B')))).ToArray();
        Assert.Equal("y=a+b", lines[0]);
        Assert.StartsWith("=β1", lines[1], StringComparison.Ordinal);
        Assert.True(lines.Length > 3);
        Assert.All(lines.Skip(2), line => Assert.StartsWith("+β", line, StringComparison.Ordinal));
        using var folder = new TestFolder();
        var warnings = new Report().Add(new Equation(Formula.Of(@"\frac{" + new string('a', 150) + "}{b}"))).Save(folder.File("wide.docx"));
        Assert.Contains("is wider than the text", Assert.Single(warnings).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Formulas_of_titles_stand_in_contents_and_references()
    {
        var docx = Save(new Report().Text($"A {Tex("x_1")}.").Add(new Contents()).Add(new Heading(1, new RichText([new TextInline("The share "), new FormulaInline(Formula.Of(@"\hat{p}"))]), new Label("share", null))).Text($"See {See("share")}."));
        Assert.DoesNotContain(docx.Body.Descendants(W + "t"), t => t.Value.Contains('\\', StringComparison.Ordinal));
        Assert.Equal(3, docx.Body.Descendants(M + "acc").Count());
    }

    private static string Inline(string tex) => Show(Save(new Report().Text($"A {Tex(tex)}.")).Body.Descendants(M + "oMath").Single());

    [Theory]
    [InlineData(@"x", "x")]
    [InlineData(@"a+b-2.5", "a+b−2.5")]
    [InlineData(@"x_i^2", "sSubSup[x|sub[i]|sup[2]]")]
    [InlineData(@"x'_{ij}", "sSubSup[x|sub[i|j]|sup[′]]")]
    [InlineData(@"\frac{a}{b+1}", "f[<bar>|num[a]|den[b+1]]")]
    [InlineData(@"\frac12", "f[<bar>|num[1]|den[2]]")]
    [InlineData(@"\sqrt{x}\sqrt[3]{y}", "rad[deg[]|x]rad[deg[3]|y]")]
    [InlineData(@"\alpha\Gamma\infty", "αp'Γ∞")]
    [InlineData(@"\sum_{i=1}^n x_i + c", "nary[<∑><subSup>|sub[i=1]|sup[n]|sSub[x|sub[i]]]+c")]
    [InlineData(@"\int\limits_0^1 f(x)\,dx = 1", "nary[<∫><subSup>|sub[0]|sup[1]|fd[<(><)>|x]words'\u2009dx]=1")]
    [InlineData(@"\sum_i (a_i + b_i) = 2", "nary[<∑><subSup>|sub[i]|sup[]|d[<(><)>|sSub[a|sub[i]]+sSub[b|sub[i]]]]=2")]
    [InlineData(@"\sum", "∑")]
    [InlineData(@"\lim_{x \to 0} f(x)", "func[fName[limLow[p'lim|lim[x→0]]]|f]d[<(><)>|x]")]
    [InlineData(@"\log(x+1)", "func[fName[p'log]|d[<(><)>|x+1]]")]
    [InlineData(@"\sin^2 x", "func[fName[sSup[p'sin|sup[2]]]|x]")]
    [InlineData(@"(X^\top X)^{-1}", "sSup[d[<(><)>|sSup[X|sup[p'⊤]]X]|sup[−1]]")]
    [InlineData(@"\max_i |x_i| + \|v\|^2", "func[fName[limLow[p'max|lim[i]]]|d[<|><|>|sSub[x|sub[i]]]]+sSup[d[<‖><‖>|v]|sup[2]]")]
    [InlineData(@"\frac{\sum_i x_i}{\log n}", "f[<bar>|num[nary[<∑><subSup>|sub[i]|sup[]|sSub[x|sub[i]]]]|den[func[fName[p'log]|n]]]")]
    [InlineData(@"P(A|B)", "Pd[<(><)>|A|B]")]
    [InlineData(@"[0, 1)", "d[<[><)>|0,1]")]
    [InlineData(@"\left( \frac{a}{b} \right]", "d[<(><]>|f[<bar>|num[a]|den[b]]]")]
    [InlineData(@"\left\{ x \middle| y \right.", "d[<{><>|x|y]")]
    [InlineData(@"\hat\beta \vec{v} \overline{ab} \underline{c}", "acc[<̂>|β]acc[<⃗>|v]bar[<top>|ab]bar[<bot>|c]")]
    [InlineData(@"\mathbf{x} \mathbb{R} \mathcal{N} \mathrm{d}", "b'xp'ℝscript'p'Np'd")]
    [InlineData(@"\text{if } x > 0", "words'if x>0")]
    [InlineData(@"\begin{pmatrix} 1 & 2 \\ 3 & 4 \end{pmatrix}", "d[<(><)>|m[mr[1|2]|mr[3|4]]]")]
    [InlineData(@"\begin{cases} 1 & x > 0 \\ 0 \end{cases}", "d[<{><>|m[mr[1|x>0]|mr[0|words'\u200B]]]")]
    [InlineData(@"\binom{n}{k}", "d[<(><)>|f[<noBar>|num[n]|den[k]]]")]
    [InlineData(@"\underbrace{a+b}_{n}", "limLow[groupChr[<⏟><bot>|a+b]|lim[n]]")]
    [InlineData(@"\not= \not\in \ne", "words'\u200B≠∉≠words'\u200B")]
    [InlineData(@"\operatorname{Var}(X)", "func[fName[p'Var]|d[<(><)>|X]]")]
    [InlineData(@"50\,\% \; \$ \{ \}", "50words'\u2009%words'\u2004${}")]
    [InlineData(@"{}^{14}\mathrm{C}", "sSup[\u200B|sup[14]]p'C")]
    public void Tex_becomes_native_structure(string tex, string expected)
    {
        var shown = Inline(tex);
        Assert.Equal(expected, shown);
    }

    [Fact]
    public void Every_known_command_can_be_written()
    {
        var report = new Report();
        foreach (var name in Signs.Split((char[])[' ', '\n'], StringSplitOptions.RemoveEmptyEntries)) report.Text($"{Tex($@"a \{name} b")}");
        foreach (var name in "hat widehat bar tilde dot ddot vec check breve mathrm mathbf boldsymbol mathit mathbb mathcal mathfrak mathsf mathtt overline boxed overbrace".Split(' ')) report.Text($"{Tex($@"\{name}{{x}}")}");
        foreach (var name in "sum prod coprod bigcup bigcap bigvee bigwedge bigoplus bigotimes int iint iiint oint".Split(' ')) report.Text($"{Tex($@"\{name}_a^b x")}");
        Assert.True(Save(report).Body.Descendants(M + "oMath").Count() > 150);
    }

    [Theory]
    [InlineData(@"\alhpa", 1, @"`\alhpa` is not understood in a formula; did you mean `\alpha`?")]
    [InlineData(@"\frac{a}", 9, @"nothing follows `\frac`")]
    [InlineData(@"x_", 3, "nothing follows `_`")]
    [InlineData(@"x_a_b", 4, "there are two indices one after the other")]
    [InlineData(@"{a", 1, "`{` is not closed in the formula")]
    [InlineData(@"a}", 2, "a `}` has no beginning")]
    [InlineData(@"\left( a", 1, @"`\left` is not closed in the formula; write `\right`")]
    [InlineData(@"a \right)", 3, @"`\right` has no `\left`")]
    [InlineData(@"\begin{matrix} a", 1, @"`\begin` has no `\end`")]
    [InlineData(@"\begin{matrx} a \end{matrx}", 1, "`matrx` is not an environment that is understood; did you mean `matrix`?")]
    [InlineData(@"\begin{matrix} a \end{cases}", 1, @"`\begin{matrix}` is ended by `\end{cases}`")]
    [InlineData(@"50 %", 4, "a `%` starts a comment in TeX")]
    [InlineData(@"\text{open", 6, "`{` is not closed")]
    [InlineData(@"\frac{a & b}{c}", 9, "`&` stands inside `{`")]
    [InlineData(@"x \limits_a", 3, @"`\limits` does not follow an operator")]
    [InlineData(@"\live{1}", 1, @"`\live{1}` is none of the 0 values")]
    public void What_is_not_understood_is_told_at_its_place(string tex, int column, string message)
    {
        var problem = Assert.Throws<ReportException>(() => Formula.Of(tex)).Diagnostics[0];
        Assert.StartsWith(message, problem.Message + (problem.Suggestion is null ? "" : "; " + problem.Suggestion), StringComparison.Ordinal);
        if (problem.Place is { } place) Assert.Equal(column, place.Column);
    }

    [Fact]
    public void Equations_are_numbered_and_referred_to()
    {
        var docx = Save(new Report().Text($"{See("line")}, {SeeAll("line", "curve")}, {See("curve", SeePart.Number)}; mean {Tex(@"\bar{x} = \live{0:0.0}", 24.53)}.")
            .Add(Formula.Of(@"y = a + b x"), label: "line").Add(Formula.Of(@"z = 1")).Add(Formula.Of(@"y = \sum_{i=1}^n x_i"), label: "curve"));
        Assert.Equal("Equation\u00A0(1), Equations\u00A0(1) and (2), (2); mean x=24.5.", docx.Paragraphs[0]);
        Assert.Equal(["(1)", "(2)"], docx.Tables.Select(t => t[0][2]));
        Assert.Equal(3, docx.Body.Descendants(M + "oMathPara").Count());
        Assert.Contains("24.5", docx.Body.Descendants(M + "t").Select(t => t.Value));
        Assert.Equal("undOvr", (string?)docx.Body.Descendants(M + "limLoc").Single().Attribute(M + "val"));
        Assert.Equal([" SEQ Equation \\* ARABIC ", " SEQ Equation \\* ARABIC "], docx.Body.Descendants(W + "tbl").Descendants(W + "instrText").Select(i => i.Value));
    }

    [Fact]
    public void Prose_holds_formulas_beside_money()
    {
        var docx = Save(new Report().Text($"From $5 to $10 and {1.5} $ each; $x^2$ and $a_{{ij}} = {2.25:0.0}$.\n\n$$ b = 1 $$\n\n$$\nc \\\\\nd\n$$\n\nA $$e$$ within."));
        Assert.Equal("From $5 to $10 and 1.5 $ each; x2 and aij=2.3.", docx.Paragraphs[0]);
        Assert.Equal(["sSup[x|sup[2]]", "sSub[a|sub[i|j]]=p'2.3", "b=1", "m[mr[c]|mr[d]]", "e"], docx.Body.Descendants(M + "oMath").Select(Show));
        var problem = Assert.Throws<ReportException>(() => new Report().Text("A $\\foo$."));
        Assert.Contains("`\\foo` is not understood", problem.Message, StringComparison.Ordinal);
    }
}
