using System.Collections.Immutable;
using System.Globalization;
using System.Xml.Linq;

namespace Fennick.Schema;

/// <summary>In which order and how often elements stand in another one.</summary>
internal sealed class ContentModel
{
    private readonly Particle whole;
    private readonly Dictionary<XName, (ElementType Type, int Place, bool IsOne)> children = [];

    private ContentModel(WordSchema schema, string line)
    {
        var at = 0;
        whole = Read(schema, line, ref at);
        MayBeEmpty = whole.Match([], 0) == 0;
        IsOrdered = !whole.IsMixed;
    }

    private enum Kind
    {
        Element,
        Anything,
        Sequence,
        Choice,
        All,
    }

    /// <summary>Whether all of it may be missing.</summary>
    public bool MayBeEmpty { get; }

    /// <summary>Whether each name has one place, so that what is out of order can be sorted.</summary>
    public bool IsOrdered { get; }

    /// <summary>Whether something of any name may stand in it.</summary>
    public bool TakesAnything { get; private set; }

    /// <summary>Reads a model of the table.</summary>
    public static ContentModel Read(WordSchema schema, string line) => new(schema, line);

    /// <summary>What an element of this name is here; null if it has no place.</summary>
    public ElementType? Find(XName name) => children.TryGetValue(name, out var found) ? found.Type : null;

    /// <summary>Where an element of this name stands among the others.</summary>
    public int PlaceOf(XName name) => children.TryGetValue(name, out var found) ? found.Place : int.MaxValue;

    /// <summary>Whether an element of this name stands here once at most.</summary>
    public bool TakesOne(XName name) => children.TryGetValue(name, out var found) && found.IsOne;

    /// <summary>Whether these elements are what the model says.</summary>
    /// <param name="names">Their names.</param>
    /// <param name="wrong">The first that is not.</param>
    /// <param name="missing">What is needed there; null if that one is needless.</param>
    public bool Fits(IReadOnlyList<XName> names, out int wrong, out ElementType? missing)
    {
        var search = new Search();
        var end = whole.Match(names, 0, search);
        (wrong, missing) = end < 0 ? (search.Furthest, search.Missing) : (end, null);
        return end == names.Count;
    }

    private Particle Read(WordSchema schema, string line, ref int at)
    {
        var (kind, close) = line[at] switch { '(' => (Kind.Sequence, ')'), '[' => (Kind.Choice, ']'), '<' => (Kind.All, '>'), '.' => (Kind.Anything, ' '), _ => (Kind.Element, ' ') };
        var parts = ImmutableArray.CreateBuilder<Particle>();
        ElementType? type = null;
        var before = children.Count;
        if (kind == Kind.Element)
        {
            var start = at;
            while (at < line.Length && char.IsAsciiDigit(line[at])) at++;
            type = schema.Type(line.AsSpan(start, at - start));
        }
        else if (kind == Kind.Anything)
        {
            TakesAnything = true;
            at++;
        }
        else
        {
            for (at++; line[at] != close;)
            {
                if (line[at] == ' ') at++;
                else parts.Add(Read(schema, line, ref at));
            }
            at++;
        }
        var (least, most) = Times(line, ref at);
        if (type is not null) children[type.Name] = children.TryGetValue(type.Name, out var again) ? again with { IsOne = false } : (type, children.Count, most == 1);
        // What is repeated as a whole is repeated in its parts.
        else if (most > 1) foreach (var (name, child) in children.Skip(before).ToArray()) children[name] = child with { IsOne = false };
        return new Particle(kind, type, parts.DrainToImmutable(), least, most);
    }

    private static (int Least, int Most) Times(string line, ref int at)
    {
        if (at == line.Length) return (1, 1);
        switch (line[at])
        {
            case '?': at++; return (0, 1);
            case '*': at++; return (0, int.MaxValue);
            case '+': at++; return (1, int.MaxValue);
            case '{':
                var (start, end) = (at + 1, line.IndexOf('}', at));
                at = end + 1;
                var ends = line[start..end].Split(',');
                return (int.Parse(ends[0], CultureInfo.InvariantCulture), ends[1].Length > 0 ? int.Parse(ends[1], CultureInfo.InvariantCulture) : int.MaxValue);
            default: return (1, 1);
        }
    }

    /// <summary>How far a search came.</summary>
    private sealed class Search
    {
        public int Furthest { get; private set; }

        public ElementType? Missing { get; private set; }

        public void Fail(int at, ElementType? wanted)
        {
            if (at < Furthest || (at == Furthest && Missing is not null)) return;
            (Furthest, Missing) = (at, wanted);
        }
    }

    /// <summary>A stretch of a model. Models are so made that the next name alone decides (XSD 1.0, §3.8.6), so nothing is tried twice.</summary>
    private sealed record Particle(Kind Kind, ElementType? Type, ImmutableArray<Particle> Parts, int Least, int Most)
    {
        /// <summary>Whether different names stand in any order in it; headers and footers do so only among themselves.</summary>
        public bool IsMixed => (Most > 1 && Names > 2) || Parts.Any(p => p.IsMixed);

        private int Names => Kind == Kind.Element ? 1 : Parts.Sum(p => p.Names);

        /// <summary>Where the names that it takes from a place on end; -1 if it does not find what it needs.</summary>
        public int Match(IReadOnlyList<XName> names, int at, Search? search = null)
        {
            for (var times = 0; times < Most; times++)
            {
                var end = Once(names, at, times < Least ? search : null);
                if (end < 0 && times < Least) return -1;
                if (end <= at) return at;
                at = end;
            }
            return at;
        }

        private int Once(IReadOnlyList<XName> names, int at, Search? search)
        {
            switch (Kind)
            {
                case Kind.Element:
                    if (at < names.Count && names[at] == Type!.Name) return at + 1;
                    search?.Fail(at, Type);
                    return -1;
                case Kind.Anything:
                    return at < names.Count ? at + 1 : -1;
                case Kind.Sequence:
                    foreach (var part in Parts)
                    {
                        var end = part.Match(names, at, search);
                        if (end < 0)
                        {
                            search?.Fail(at, part.Type);
                            return -1;
                        }
                        at = end;
                    }
                    return at;
                case Kind.Choice:
                    var isNullable = false;
                    foreach (var part in Parts)
                    {
                        var end = part.Match(names, at, search);
                        if (end > at) return end;
                        isNullable |= end == at;
                    }
                    return isNullable ? at : -1;
                default:
                    var left = Parts.ToList();
                    for (var moved = true; moved;)
                    {
                        moved = false;
                        foreach (var part in left)
                        {
                            var end = part.Match(names, at, null);
                            if (end <= at) continue;
                            at = end;
                            left.Remove(part);
                            moved = true;
                            break;
                        }
                    }
                    return left.All(p => p.Match([], 0) == 0) ? at : -1;
            }
        }
    }
}
