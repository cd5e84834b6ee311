using System.Collections.Immutable;
using System.Text;
using Fennick.Diagnostics;
using Fennick.Formatting;
using Fennick.Prose;

namespace Fennick.Mathematics;

/// <summary>Reads the usual TeX notation of formulas. What it does not understand is an error at its place.</summary>
internal sealed class TexReader
{
    private const int Deepest = 60;
    private readonly string text;
    private readonly Func<int, SourcePlace?> placeOf;
    private int at;
    private int depth;

    private TexReader(string text, Func<int, SourcePlace?> placeOf)
    {
        this.text = text;
        this.placeOf = placeOf;
    }

    /// <summary>Why reading of a row stopped.</summary>
    private enum Stop
    {
        End,
        Brace,
        Bracket,
        Cell,
        Line,
        EndEnvironment,
        Right,
        Middle,
    }

    /// <exception cref="ReportException">The notation is not understood.</exception>
    public static FormulaNode Read(string text, Func<int, SourcePlace?> placeOf)
    {
        var reader = new TexReader(text, placeOf);
        // Lines of a displayed formula need no environment.
        var rows = reader.ReadCells(Stop.End, 0);
        return rows is [[var only]] ? only : Aligned(rows);
    }

    private FormulaNode ReadRow(out Stop stop, bool inBracket = false)
    {
        if (++depth > Deepest) throw Wrong(at, "the formula is nested too deeply", "write parts of it as formulas of their own");
        var nodes = new List<FormulaNode>();
        var pending = new Stack<(FormulaNode Head, int First)>();
        while (true)
        {
            SkipSpace();
            if (at >= text.Length)
            {
                stop = Stop.End;
                break;
            }
            var start = at;
            if (ReadStop(inBracket) is { } found)
            {
                stop = found;
                break;
            }
            if (ReadAtom() is not { } atom) continue;
            atom = ReadScripts(atom, start);
            // What a big operator runs over ends at a relation or a sum.
            if (IsSeparator(atom) && OpenParentheses(nodes, pending.Count > 0 ? pending.Peek().First : 0) <= 0) CloseAll();
            if (atom is FormulaNode.BigOperator or FormulaNode.Function { Argument: FormulaNode.Row { Nodes.IsEmpty: true } })
            {
                pending.Push((atom, nodes.Count));
                continue;
            }
            Add(nodes, atom, pending.Count > 0 ? pending.Peek().First : 0);
            // A function takes one thing, or what stands in parentheses.
            while (pending.Count > 0 && pending.Peek().Head is FormulaNode.Function && nodes.Count > pending.Peek().First && OpenParentheses(nodes, pending.Peek().First) <= 0 && !IsBlank(nodes[^1])) Close();
        }
        CloseAll();
        depth--;
        return nodes.Count == 1 ? nodes[0] : new FormulaNode.Row([.. nodes]);

        void CloseAll()
        {
            while (pending.Count > 0) Close();
        }

        void Close()
        {
            var (head, first) = pending.Pop();
            var inside = nodes.Skip(first).ToImmutableArray();
            nodes.RemoveRange(first, nodes.Count - first);
            FormulaNode of = inside.Length == 1 ? inside[0] : new FormulaNode.Row(inside);
            nodes.Add((head, inside.Length) switch
            {
                // An operator with nothing to run over is a sign.
                (FormulaNode.BigOperator b, 0) => b.HasLimits ? new FormulaNode.Limit(new FormulaNode.Text(b.Sign), b.Below, b.Above) : new FormulaNode.Script(new FormulaNode.Text(b.Sign), b.Below, b.Above),
                (FormulaNode.BigOperator b, _) => b with { Of = of },
                (FormulaNode.Function f, 0) => f.Name,
                (FormulaNode.Function f, _) => f with { Argument = of },
                _ => head,
            });
        }
    }

    /// <summary>An invisible word: some readers take a cell without content, or a relation without a left side, for a mistake.</summary>
    internal static readonly FormulaNode Nothing = new FormulaNode.Text("\u200B", Lettering.Words);

    private const string Openers = "([{⟨⌊⌈";
    private const string Closers = ")]}⟩⌋⌉";

    /// <summary>A closing sign and the opening one that it belongs to become delimiters around what stands between them; an exponent then belongs to the whole.</summary>
    private static void Add(List<FormulaNode> nodes, FormulaNode atom, int first)
    {
        var sign = atom is FormulaNode.Script script ? script.Of : atom;
        if (sign is FormulaNode.Text { Value: [var close] } && (Closers.Contains(close) || close is '|' or '‖'))
        {
            var open = close is '|' or '‖' ? LastOpenBar(nodes, first, close) : nodes.FindLastIndex(n => n is FormulaNode.Text { Value: [var c] } && Openers.Contains(c));
            if (open >= first && open < nodes.Count - 1)
            {
                var inside = nodes.Skip(open + 1).ToImmutableArray();
                var delimited = new FormulaNode.Delimited(((FormulaNode.Text)nodes[open]).Value, close.ToString(), "", [inside.Length == 1 ? inside[0] : new FormulaNode.Row(inside)]);
                nodes.RemoveRange(open, nodes.Count - open);
                nodes.Add(atom is FormulaNode.Script scripted ? scripted with { Of = delimited } : delimited);
                return;
            }
        }
        nodes.Add(atom);
    }

    /// <summary>A bar opens where no operand stands before it: <c>|x|</c>, but not <c>A|B</c>.</summary>
    private static bool IsOpenBar(List<FormulaNode> nodes, int index, int first, char bar) => nodes[index] is FormulaNode.Text { Value: [var c] } && c == bar
        && (index == first || IsSeparator(nodes[index - 1]) || nodes[index - 1] is FormulaNode.Text { Value: "⋅" or "×" or "∗" } || (nodes[index - 1] is FormulaNode.Text { Value: [var before] } && Openers.Contains(before)));

    private static int LastOpenBar(List<FormulaNode> nodes, int first, char bar)
    {
        for (var i = nodes.Count - 1; i >= first; i--)
            if (IsOpenBar(nodes, i, first, bar)) return i;
        return -1;
    }

    private static bool IsBlank(FormulaNode node) => node is FormulaNode.Text { Value: var value } && string.IsNullOrWhiteSpace(value);

    private static bool IsSeparator(FormulaNode node) => node is FormulaNode.Text { Value: var value }
        && (value is "," or ";" || TexSymbols.IsSign(value));

    private static int OpenParentheses(List<FormulaNode> nodes, int first)
    {
        var open = 0;
        for (var i = first; i < nodes.Count; i++)
        {
            var sign = nodes[i] is FormulaNode.Script script ? script.Of : nodes[i];
            if (sign is not FormulaNode.Text { Value: [var character] }) continue;
            if (Openers.Contains(character) || IsOpenBar(nodes, i, first, '|') || IsOpenBar(nodes, i, first, '‖')) open++;
            else if (Closers.Contains(character)) open--;
        }
        return open;
    }

    /// <summary>Passes what ends a row.</summary>
    private Stop? ReadStop(bool inBracket)
    {
        switch (text[at])
        {
            case '}': at++; return Stop.Brace;
            case ']' when inBracket: at++; return Stop.Bracket;
            case '&': at++; return Stop.Cell;
            case '\\':
                if (Follows("\\\\"))
                {
                    at += 2;
                    // A distance after it is a matter of looks.
                    SkipSpace();
                    if (at < text.Length && text[at] == '[' && text.IndexOf(']', at) is > 0 and var end) at = end + 1;
                    return Stop.Line;
                }
                if (FollowsCommand("end")) return Stop.EndEnvironment;
                if (FollowsCommand("right"))
                {
                    at += "\\right".Length;
                    return Stop.Right;
                }
                if (FollowsCommand("middle"))
                {
                    at += "\\middle".Length;
                    return Stop.Middle;
                }
                return null;
            default: return null;
        }
    }

    private FormulaNode ReadScripts(FormulaNode atom, int start)
    {
        FormulaNode? below = null, above = null;
        bool? limits = null;
        var primes = new StringBuilder();
        while (true)
        {
            SkipSpace();
            if (FollowsCommand("limits") || FollowsCommand("nolimits")) start = at;
            if (FollowsCommand("limits")) (limits, at) = (true, at + "\\limits".Length);
            else if (FollowsCommand("nolimits")) (limits, at) = (false, at + "\\nolimits".Length);
            else if (at < text.Length && text[at] == '\'')
            {
                primes.Append('′');
                at++;
            }
            else if (at < text.Length && text[at] is '_' or '^')
            {
                var isBelow = text[at] == '_';
                if ((isBelow ? below : above) is not null) throw Wrong(at, $"there are two {(isBelow ? "indices" : "exponents")} one after the other", "put the inner ones in braces, such as `x_{a_b}`");
                at++;
                var script = ReadArgument(isBelow ? "_" : "^");
                if (isBelow) below = script;
                else above = script;
            }
            else break;
        }
        if (primes.Length > 0) above = above is null ? new FormulaNode.Text(primes.ToString()) : new FormulaNode.Row([new FormulaNode.Text(primes.ToString()), above]);
        switch (atom)
        {
            case FormulaNode.BigOperator big:
                return big with { Below = below, Above = above, HasLimits = limits ?? big.HasLimits };
            case FormulaNode.Function { Name: FormulaNode.Limit limit } function when below is not null || above is not null:
                return function with { Name = limits == false ? new FormulaNode.Script(limit.Of, below, above) : limit with { Below = below, Above = above } };
            case FormulaNode.Function { Name: FormulaNode.Limit limit } function:
                return function with { Name = limit.Of };
            case FormulaNode.Function function when below is not null || above is not null:
                return function with { Name = new FormulaNode.Script(function.Name, below, above) };
            case FormulaNode.Brace brace when (brace.IsAbove ? above : below) is not null:
                return new FormulaNode.Limit(brace, brace.IsAbove ? null : below, brace.IsAbove ? above : null);
        }
        if (limits is not null) throw Wrong(start, "`\\limits` does not follow an operator", "write it after `\\sum` or `\\int`");
        return below is null && above is null ? atom : new FormulaNode.Script(atom, below, above);
    }

    /// <summary>What a command applies to: a group in braces, or the next sign.</summary>
    private FormulaNode ReadArgument(string of)
    {
        SkipSpace();
        if (at >= text.Length || text[at] is '}' or '&' || Follows("\\\\")) throw Wrong(at, $"nothing follows `{of}`", "write what it applies to in braces");
        var start = at;
        if (text[at] is '^' or '_') throw Wrong(at, $"nothing follows `{of}`", "write what it applies to in braces");
        // `\frac12` takes a digit each.
        if (char.IsAsciiDigit(text[at])) return new FormulaNode.Text(text[at++].ToString());
        var isGroup = text[at] == '{';
        var atom = ReadAtom() ?? new FormulaNode.Row([]);
        if (isGroup) return atom;
        // Without braces a function has no argument here.
        return atom is FormulaNode.Function { Name: var name } ? name is FormulaNode.Limit limit ? limit.Of : name : atom is FormulaNode.BigOperator big ? new FormulaNode.Text(big.Sign) : at > start ? atom : throw Wrong(start, $"nothing follows `{of}`", null);
    }

    /// <summary>The next sign, group or command; null for what leaves nothing.</summary>
    private FormulaNode? ReadAtom()
    {
        var start = at;
        var sign = text[at];
        switch (sign)
        {
            case '{':
                at++;
                var group = ReadRow(out var stop);
                return stop == Stop.Brace ? group : throw Unclosed(start, "`{`", "`}`", stop);
            case '\\':
                return ReadCommand();
            case '^' or '_':
                return new FormulaNode.Row([]);
            case '-':
                at++;
                return new FormulaNode.Text("−");
            case '*':
                at++;
                return new FormulaNode.Text("∗");
            case '~':
                at++;
                return new FormulaNode.Text("\u00A0");
            case '%':
                throw Wrong(at, "a `%` starts a comment in TeX", "write `\\%` for the sign");
            case '#' or '$':
                throw Wrong(at, $"`{sign}` cannot stand in a formula", $"write `\\{sign}` for the sign");
            case '\'':
                return new FormulaNode.Row([]);
        }
        if (char.IsAsciiDigit(sign))
        {
            while (at < text.Length && (char.IsAsciiDigit(text[at]) || (text[at] is '.' && at + 1 < text.Length && char.IsAsciiDigit(text[at + 1])))) at++;
            return new FormulaNode.Text(text[start..at]);
        }
        at += char.IsHighSurrogate(sign) && at + 1 < text.Length ? 2 : 1;
        return new FormulaNode.Text(text[start..at]);
    }

    private FormulaNode? ReadCommand()
    {
        var start = at++;
        if (at >= text.Length) throw Wrong(start, "a `\\` stands at the end", "write a command after it");
        var nameStart = at;
        while (at < text.Length && char.IsAsciiLetter(text[at])) at++;
        if (at == nameStart) at++;
        var name = text[nameStart..at];
        if (TexSymbols.Letters.TryGetValue(name, out var letter)) return new FormulaNode.Text(letter);
        if (TexSymbols.Signs.TryGetValue(name, out var sign)) return new FormulaNode.Text(sign, Lettering.Upright);
        if (TexSymbols.BinaryOperators.TryGetValue(name, out var binary)) return new FormulaNode.Text(binary, name == "bmod" ? Lettering.Upright : Lettering.Usual);
        if (TexSymbols.Relations.TryGetValue(name, out var relation)) return new FormulaNode.Text(relation);
        if (TexSymbols.BigOperators.TryGetValue(name, out var big)) return new FormulaNode.BigOperator(big, null, null, new FormulaNode.Row([]), !name.EndsWith("int", StringComparison.Ordinal));
        if (TexSymbols.Spaces.TryGetValue(name, out var space)) return space.Length == 0 ? null : new FormulaNode.Text(space);
        if (TexSymbols.Functions.Contains(name)) return new FormulaNode.Function(new FormulaNode.Text(name, Lettering.Upright), new FormulaNode.Row([]));
        if (TexSymbols.LimitFunctions.TryGetValue(name, out var limit)) return new FormulaNode.Function(new FormulaNode.Limit(new FormulaNode.Text(limit, Lettering.Upright), null, null), new FormulaNode.Row([]));
        if (TexSymbols.Accents.TryGetValue(name, out var accent)) return new FormulaNode.Accent(accent, ReadArgument(text[start..at]));
        if (TexSymbols.Letterings.TryGetValue(name, out var lettering)) return Relettered(ReadArgument(text[start..at]), lettering);
        switch (name)
        {
            case "frac" or "dfrac" or "tfrac" or "cfrac": return new FormulaNode.Fraction(ReadArgument(text[start..at]), ReadArgument("\\" + name), HasBar: true);
            case "binom" or "dbinom" or "tbinom":
                return new FormulaNode.Delimited("(", ")", "", [new FormulaNode.Fraction(ReadArgument("\\" + name), ReadArgument("\\" + name), HasBar: false)]);
            case "sqrt": return ReadRoot(start);
            case "text" or "textrm" or "mbox": return new FormulaNode.Text(ReadWords(start), Lettering.Words);
            case "textbf": return new FormulaNode.Text(ReadWords(start), Lettering.Bold);
            case "textit": return new FormulaNode.Text(ReadWords(start), Lettering.Italic);
            case "operatorname":
                var hasLimits = at < text.Length && text[at] == '*';
                if (hasLimits) at++;
                FormulaNode operatorName = new FormulaNode.Text(ReadWords(start), Lettering.Upright);
                return new FormulaNode.Function(hasLimits ? new FormulaNode.Limit(operatorName, null, null) : operatorName, new FormulaNode.Row([]));
            case "live": return ReadLive(start);
            case "overline": return new FormulaNode.Bar(IsAbove: true, ReadArgument("\\overline"));
            case "underline": return new FormulaNode.Bar(IsAbove: false, ReadArgument("\\underline"));
            case "overbrace": return new FormulaNode.Brace("⏞", IsAbove: true, ReadArgument("\\overbrace"));
            case "underbrace": return new FormulaNode.Brace("⏟", IsAbove: false, ReadArgument("\\underbrace"));
            case "overset" or "stackrel":
                var over = ReadArgument("\\" + name);
                return new FormulaNode.Limit(ReadArgument("\\" + name), null, over);
            case "underset":
                var under = ReadArgument("\\underset");
                return new FormulaNode.Limit(ReadArgument("\\underset"), under, null);
            case "boxed": return new FormulaNode.Box(ReadArgument("\\boxed"));
            case "left": return ReadDelimited(start);
            case "big" or "Big" or "bigg" or "Bigg" or "bigl" or "bigr" or "Bigl" or "Bigr" or "biggl" or "biggr" or "bigm": return new FormulaNode.Text(ReadDelimiter(start));
            case "not": return ReadNegated(start);
            case "pmod":
                return new FormulaNode.Row([new FormulaNode.Text("\u2003("), new FormulaNode.Text("mod\u2009", Lettering.Upright), ReadArgument("\\pmod"), new FormulaNode.Text(")")]);
            case "begin": return ReadEnvironment(start);
            case "displaystyle" or "textstyle" or "scriptstyle" or "nonumber" or "notag": return null;
            case "limits" or "nolimits": throw Wrong(start, $"`\\{name}` does not follow an operator", "write it after `\\sum` or `\\int`");
            case "{" or "}" or "%" or "$" or "#" or "&" or "_": return new FormulaNode.Text(name);
            case "|": return new FormulaNode.Text("‖");
        }
        throw Wrong(start, $"`\\{name}` is not understood in a formula", Nearest.Suggest($"\\{name}", TexSymbols.All.Select(n => $"\\{n}")) ?? "use `\\text{…}` for words and `\\operatorname{…}` for functions of your own");
    }

    private FormulaNode.Root ReadRoot(int start)
    {
        SkipSpace();
        FormulaNode? degree = null;
        if (at < text.Length && text[at] == '[')
        {
            at++;
            degree = ReadRow(out var stop, inBracket: true);
            if (stop != Stop.Bracket) throw Unclosed(start, "`[`", "`]`", stop);
        }
        return new FormulaNode.Root(degree, ReadArgument("\\sqrt"));
    }

    /// <summary>The words in braces, as they stand.</summary>
    private string ReadWords(int start)
    {
        SkipSpace();
        if (at >= text.Length || text[at] != '{') throw Wrong(start, $"`{text[start..at].TrimEnd()}` has no words", "write them in braces");
        var open = at;
        var level = 0;
        var words = new StringBuilder();
        for (; at < text.Length; at++)
        {
            if (text[at] == '\\' && at + 1 < text.Length && !char.IsAsciiLetter(text[at + 1])) words.Append(text[++at]);
            else if (text[at] == '{') level++;
            else if (text[at] == '}' && --level == 0)
            {
                at++;
                return words.ToString();
            }
            else words.Append(text[at] == '~' ? '\u00A0' : text[at]);
        }
        throw Unclosed(open, "`{`", "`}`", Stop.End);
    }

    private FormulaNode.Live ReadLive(int start)
    {
        var end = at < text.Length && text[at] == '{' ? HoleScanner.FindEnd(text, at) : -1;
        if (end < 0) throw Wrong(start, "`\\live` has no expression", "write `\\live{expression:format}`");
        var live = new FormulaNode.Live(text[(at + 1)..end], at + 1);
        at = end + 1;
        return live;
    }

    private FormulaNode.Delimited ReadDelimited(int start)
    {
        var open = ReadDelimiter(start);
        var parts = ImmutableArray.CreateBuilder<FormulaNode>();
        var separator = "";
        while (true)
        {
            parts.Add(ReadRow(out var stop));
            if (stop == Stop.Middle) separator = ReadDelimiter(at);
            else if (stop == Stop.Right) return new FormulaNode.Delimited(open, ReadDelimiter(at), separator, parts.ToImmutable());
            else throw Unclosed(start, "`\\left`", "`\\right`", stop);
        }
    }

    private string ReadDelimiter(int start)
    {
        SkipSpace();
        if (at >= text.Length) throw Wrong(start, "a delimiter is missing", "write one such as `(`, or `.` for none");
        if (text[at] == '\\')
        {
            var from = at++;
            var nameStart = at;
            while (at < text.Length && char.IsAsciiLetter(text[at])) at++;
            if (at == nameStart && at < text.Length) at++;
            var name = text[nameStart..at];
            if (name == "|") return "‖";
            if (name is "{" or "}") return name;
            if (TexSymbols.Signs.TryGetValue(name, out var sign)) return sign;
            throw Wrong(from, $"`\\{name}` is not a delimiter", "the delimiters are `(`, `[`, `\\{`, `|`, `\\|`, `\\langle`, `\\lfloor`, `\\lceil` and their closing ones, and `.` for none");
        }
        var delimiter = text[at++];
        if ("()[]|/<>.‖⟨⟩".Contains(delimiter)) return delimiter switch { '.' => "", '<' => "⟨", '>' => "⟩", _ => delimiter.ToString() };
        throw Wrong(at - 1, $"`{delimiter}` is not a delimiter", "write one such as `(`, or `.` for none");
    }

    private FormulaNode.Text ReadNegated(int start)
    {
        var argument = ReadArgument("\\not");
        if (argument is not FormulaNode.Text { Value.Length: 1 } sign) throw Wrong(start, "`\\not` does not stand before a relation", "write it before a sign such as `=` or `\\in`");
        return sign with { Value = Composed.Of(sign.Value + "\u0338") };
    }

    private FormulaNode ReadEnvironment(int start)
    {
        var name = ReadWords(start);
        var columns = name is "array" ? ReadWords(at).Replace("|", "", StringComparison.Ordinal).Replace(" ", "", StringComparison.Ordinal) : "";
        if (name is "array" && columns.Any(c => c is not ('l' or 'c' or 'r'))) throw Wrong(start, $"`{columns}` does not say how columns are aligned", "use `l`, `c` and `r`");
        (string Open, string Close)? around = name switch
        {
            "matrix" or "smallmatrix" or "array" => ("", ""),
            "pmatrix" => ("(", ")"),
            "bmatrix" => ("[", "]"),
            "Bmatrix" => ("{", "}"),
            "vmatrix" => ("|", "|"),
            "Vmatrix" => ("‖", "‖"),
            "cases" => ("{", ""),
            "aligned" or "align" or "align*" or "split" or "gathered" or "gather" or "gather*" or "alignedat" or "equation" or "equation*" => null,
            _ => throw Wrong(start, $"`{name}` is not an environment that is understood", Nearest.Suggest(name, ["matrix", "pmatrix", "bmatrix", "vmatrix", "cases", "aligned", "gathered", "array"]) ?? "there are `matrix`, `pmatrix`, `bmatrix`, `Bmatrix`, `vmatrix`, `Vmatrix`, `array`, `cases`, `aligned`, `gathered`"),
        };
        var rows = ReadCells(Stop.EndEnvironment, start);
        at += "\\end".Length;
        var end = ReadWords(at);
        if (end != name) throw Wrong(start, $"`\\begin{{{name}}}` is ended by `\\end{{{end}}}`", $"write `\\end{{{name}}}`");
        if (around is not var (open, close)) return Aligned(rows);
        var width = rows.Max(r => r.Length);
        if (columns.Length == 0) columns = new string(name == "cases" ? 'l' : 'c', width);
        else if (columns.Length < width) throw Wrong(start, $"the array has {width} columns, but only {columns.Length} are described", "add a letter for each");
        var grid = new FormulaNode.Grid(Filled(rows, columns.Length), columns, IsTight: false);
        return open.Length + close.Length == 0 ? grid : new FormulaNode.Delimited(open, close, "", [grid]);
    }

    internal static FormulaNode Aligned(ImmutableArray<ImmutableArray<FormulaNode>> rows)
    {
        var width = rows.Max(r => r.Length);
        return rows.Length == 1 && width == 1 ? rows[0][0] : new FormulaNode.Grid([.. Filled(rows, width).Select(r => r.Select((cell, c) => c % 2 == 1 ? AfterNothing(cell) : cell).ToImmutableArray())], width == 1 ? "c" : string.Concat(Enumerable.Range(0, width).Select(c => c % 2 == 0 ? 'r' : 'l')), IsTight: true);
    }

    /// <summary>A relation at the start of a cell has an invisible left side, so that it is spaced as one.</summary>
    private static FormulaNode AfterNothing(FormulaNode cell)
    {
        return cell switch
        {
            FormulaNode.Row { Nodes: [var first, ..] } row when IsSeparator(first) => new FormulaNode.Row([Nothing, .. row.Nodes]),
            FormulaNode.Text when IsSeparator(cell) => new FormulaNode.Row([Nothing, cell]),
            _ => cell,
        };
    }

    private static ImmutableArray<ImmutableArray<FormulaNode>> Filled(ImmutableArray<ImmutableArray<FormulaNode>> rows, int width) =>
        [.. rows.Select(r => Enumerable.Range(0, width).Select(c => c < r.Length && r[c] is not FormulaNode.Row { Nodes.IsEmpty: true } ? r[c] : Nothing).ToImmutableArray())];

    private ImmutableArray<ImmutableArray<FormulaNode>> ReadCells(Stop end, int start)
    {
        var rows = ImmutableArray.CreateBuilder<ImmutableArray<FormulaNode>>();
        var row = ImmutableArray.CreateBuilder<FormulaNode>();
        while (true)
        {
            var cell = ReadRow(out var stop);
            var isEmpty = cell is FormulaNode.Row { Nodes.IsEmpty: true };
            // A line end before the end is none.
            if (stop != end || !isEmpty || row.Count > 0 || rows.Count == 0) row.Add(cell);
            if (stop == Stop.Cell) continue;
            if (row.Count > 0) rows.Add(row.DrainToImmutable());
            if (stop == Stop.Line) continue;
            if (stop == end) break;
            throw stop switch
            {
                Stop.Brace => Wrong(at - 1, "a `}` has no beginning", "write `\\}` for a brace"),
                Stop.Right => Wrong(at - "\\right".Length, "`\\right` has no `\\left`", "write one before it, or leave it out"),
                Stop.Middle => Wrong(at - "\\middle".Length, "`\\middle` stands outside `\\left` and `\\right`", "leave it out"),
                Stop.EndEnvironment => Wrong(at, "`\\end` has no `\\begin`", "write one before it, or leave it out"),
                _ => Wrong(start, "`\\begin` has no `\\end`", "close it before the end of the formula"),
            };
        }
        return rows.ToImmutable();
    }

    private static FormulaNode Relettered(FormulaNode node, Lettering lettering) => node switch
    {
        FormulaNode.Text text when lettering == Lettering.DoubleStruck && text.Value.All("CHNPQRZ".Contains) =>
            new FormulaNode.Text(string.Concat(text.Value.Select(c => c switch { 'C' => 'ℂ', 'H' => 'ℍ', 'N' => 'ℕ', 'P' => 'ℙ', 'Q' => 'ℚ', 'R' => 'ℝ', _ => 'ℤ' })), Lettering.Upright),
        FormulaNode.Text { Lettering: not Lettering.Words } text => text with { Lettering = lettering },
        FormulaNode.Row row when row.Nodes.All(n => n is FormulaNode.Text) => new FormulaNode.Text(string.Concat(row.Nodes.Cast<FormulaNode.Text>().Select(t => t.Value)), lettering),
        FormulaNode.Row row => new FormulaNode.Row([.. row.Nodes.Select(n => Relettered(n, lettering))]),
        FormulaNode.Script script => script with { Of = Relettered(script.Of, lettering) },
        FormulaNode.Accent accent => accent with { Of = Relettered(accent.Of, lettering) },
        _ => node,
    };

    private void SkipSpace()
    {
        while (at < text.Length && char.IsWhiteSpace(text[at])) at++;
    }

    private bool Follows(string what) => string.CompareOrdinal(text, at, what, 0, what.Length) == 0;

    private bool FollowsCommand(string name) => at < text.Length && text[at] == '\\' && string.CompareOrdinal(text, at + 1, name, 0, name.Length) == 0
        && (at + 1 + name.Length >= text.Length || !char.IsAsciiLetter(text[at + 1 + name.Length]));

    private ReportException Unclosed(int start, string open, string close, Stop stop) => stop switch
    {
        Stop.Cell => Wrong(at - 1, $"`&` stands inside {open}", $"close it first with {close}; `\\&` is the sign"),
        Stop.Line => Wrong(at - 2, $"a line ends inside {open}", $"close it first with {close}"),
        _ => Wrong(start, $"{open} is not closed in the formula", $"write {close}"),
    };

    private ReportException Wrong(int offset, string message, string? suggestion) => new(Diagnostic.Error(placeOf(Math.Min(offset, text.Length)), message, suggestion));
}
