using System.Collections.Frozen;

namespace Fennick.Mathematics;

/// <summary>The commands of TeX notation that stand for a sign.</summary>
internal static class TexSymbols
{
    /// <summary>Greek and other letters, which are italic as letters are.</summary>
    public static FrozenDictionary<string, string> Letters { get; } = Read("""
        alpha α beta β gamma γ delta δ epsilon ϵ varepsilon ε zeta ζ eta η theta θ vartheta ϑ iota ι kappa κ varkappa ϰ lambda λ mu μ nu ν xi ξ omicron ο pi π varpi ϖ rho ρ varrho ϱ
        sigma σ varsigma ς tau τ upsilon υ phi ϕ varphi φ chi χ psi ψ omega ω ell ℓ imath ı jmath ȷ partial ∂
        """);

    /// <summary>Signs that stand upright.</summary>
    public static FrozenDictionary<string, string> Signs { get; } = Read("""
        Gamma Γ Delta Δ Theta Θ Lambda Λ Xi Ξ Pi Π Sigma Σ Upsilon Υ Phi Φ Psi Ψ Omega Ω
        infty ∞ nabla ∇ forall ∀ exists ∃ nexists ∄ emptyset ∅ varnothing ∅ neg ¬ lnot ¬ top ⊤ bot ⊥ angle ∠ degree ° prime ′ hbar ℏ Re ℜ Im ℑ aleph ℵ wp ℘ dagger † ddagger ‡ star ⋆ ast ∗ bullet ∙ circ ∘
        ldots … dots … cdots ⋯ vdots ⋮ ddots ⋱ colon : backslash ∖ checkmark ✓ square □ triangle △ flat ♭ sharp ♯ euro € pounds £ S § P ¶ copyright ©
        langle ⟨ rangle ⟩ lfloor ⌊ rfloor ⌋ lceil ⌈ rceil ⌉ lvert | rvert | lVert ‖ rVert ‖ vert | Vert ‖ lbrace { rbrace } lbrack [ rbrack ]
        """);

    /// <summary>Signs between two things that are not compared.</summary>
    public static FrozenDictionary<string, string> BinaryOperators { get; } = Read("""
        pm ± mp ∓ times × div ÷ cdot ⋅ cup ∪ cap ∩ setminus ∖ wedge ∧ land ∧ vee ∨ lor ∨ oplus ⊕ ominus ⊖ otimes ⊗ odot ⊙ oslash ⊘ uplus ⊎ sqcup ⊔ sqcap ⊓ amalg ⨿ bmod mod
        """);

    /// <summary>Signs that compare or relate two things.</summary>
    public static FrozenDictionary<string, string> Relations { get; } = Read("""
        leq ≤ le ≤ geq ≥ ge ≥ neq ≠ ne ≠ equiv ≡ approx ≈ sim ∼ simeq ≃ cong ≅ propto ∝ ll ≪ gg ≫ in ∈ ni ∋ notin ∉ subset ⊂ supset ⊃ subseteq ⊆ supseteq ⊇ mid ∣ nmid ∤ parallel ∥ perp ⊥ models ⊨ vdash ⊢
        to → rightarrow → leftarrow ← gets ← leftrightarrow ↔ Rightarrow ⇒ Leftarrow ⇐ Leftrightarrow ⇔ implies ⟹ iff ⟺ mapsto ↦ longrightarrow ⟶ longleftarrow ⟵ uparrow ↑ downarrow ↓ hookrightarrow ↪
        leqslant ⩽ geqslant ⩾ prec ≺ succ ≻ preceq ⪯ succeq ⪰ asymp ≍ doteq ≐ triangleq ≜ coloneqq ≔ rightsquigarrow ⇝ leadsto ⇝
        """);

    /// <summary>Operators that stand before what they run over; those of the first group carry limits below and above in displayed formulas.</summary>
    public static FrozenDictionary<string, string> BigOperators { get; } = Read("sum ∑ prod ∏ coprod ∐ bigcup ⋃ bigcap ⋂ bigvee ⋁ bigwedge ⋀ bigoplus ⨁ bigotimes ⨂ int ∫ iint ∬ iiint ∭ oint ∮");

    public static FrozenDictionary<string, string> Accents { get; } = Read("hat ̂ widehat ̂ bar ̅ tilde ̃ widetilde ̃ dot ̇ ddot ̈ dddot ⃛ vec ⃗ acute ́ grave ̀ breve ̆ check ̌ mathring ̊");

    /// <summary>Widths of space, as characters.</summary>
    public static FrozenDictionary<string, string> Spaces { get; } = new Dictionary<string, string>
    {
        [","] = "\u2009",
        [":"] = "\u205F",
        [">"] = "\u205F",
        [";"] = "\u2004",
        ["!"] = "",
        ["quad"] = "\u2003",
        ["qquad"] = "\u2003\u2003",
        [" "] = "\u00A0",
        ["enspace"] = "\u2002",
        ["thinspace"] = "\u2009",
    }.ToFrozenDictionary();

    /// <summary>Functions, whose names are upright.</summary>
    public static FrozenSet<string> Functions { get; } = new[]
    {
        "sin", "cos", "tan", "cot", "sec", "csc", "arcsin", "arccos", "arctan", "sinh", "cosh", "tanh", "coth", "log", "ln", "lg", "exp", "arg", "deg", "dim", "ker", "hom",
    }.ToFrozenSet();

    /// <summary>Functions whose limits stand below their names.</summary>
    public static FrozenDictionary<string, string> LimitFunctions { get; } = new Dictionary<string, string>
    {
        ["lim"] = "lim",
        ["limsup"] = "lim sup",
        ["liminf"] = "lim inf",
        ["max"] = "max",
        ["min"] = "min",
        ["sup"] = "sup",
        ["inf"] = "inf",
        ["det"] = "det",
        ["gcd"] = "gcd",
        ["Pr"] = "Pr",
        ["argmax"] = "arg max",
        ["argmin"] = "arg min",
    }.ToFrozenDictionary();

    public static FrozenDictionary<string, Lettering> Letterings { get; } = new Dictionary<string, Lettering>
    {
        ["mathrm"] = Lettering.Upright,
        ["mathbf"] = Lettering.Bold,
        ["boldsymbol"] = Lettering.BoldItalic,
        ["bm"] = Lettering.BoldItalic,
        ["mathit"] = Lettering.Italic,
        ["mathbb"] = Lettering.DoubleStruck,
        ["mathcal"] = Lettering.Script,
        ["mathscr"] = Lettering.Script,
        ["mathfrak"] = Lettering.Fraktur,
        ["mathsf"] = Lettering.SansSerif,
        ["mathtt"] = Lettering.Monospace,
    }.ToFrozenDictionary();

    /// <summary>Whether a sign relates what stands on both its sides.</summary>
    public static bool IsRelation(string sign) => sign is "=" or "<" or ">" || Relations.Values.Contains(sign);

    /// <summary>Whether a sign joins terms of a sum.</summary>
    public static bool IsSum(string sign) => sign is "+" or "−" or "±" or "∓";

    /// <summary>Whether a sign needs something on both its sides.</summary>
    public static bool IsSign(string sign) => IsRelation(sign) || IsSum(sign);

    /// <summary>Everything that is understood, for suggestions.</summary>
    public static IEnumerable<string> All => Letters.Keys.Concat(Signs.Keys).Concat(BinaryOperators.Keys).Concat(Relations.Keys).Concat(BigOperators.Keys).Concat(Accents.Keys).Concat(Functions).Concat(LimitFunctions.Keys).Concat(Letterings.Keys)
        .Concat(["frac", "dfrac", "tfrac", "sqrt", "binom", "left", "right", "middle", "begin", "end", "text", "operatorname", "overline", "underline", "overbrace", "underbrace", "overset", "underset", "stackrel", "boxed", "limits", "live", "quad", "qquad"]);

    private static FrozenDictionary<string, string> Read(string table)
    {
        var words = table.Split((char[])[' ', '\n'], StringSplitOptions.RemoveEmptyEntries);
        return Enumerable.Range(0, words.Length / 2).ToFrozenDictionary(i => words[2 * i], i => words[(2 * i) + 1]);
    }
}
