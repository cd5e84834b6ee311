using System.Buffers;
using System.Buffers.Text;
using System.Diagnostics;
using System.Text;

namespace Fennick.Wordprocessing;

/// <summary>Writes XML forward into a pooled buffer: names are UTF-8 literals, nothing is allocated per element.</summary>
internal sealed class Utf8XmlWriter(PooledBuffer buffer)
{
    private static readonly char[] Suspects =
        [.. Enumerable.Range(0, 0x20).Select(c => (char)c), '\uFFFE', '\uFFFF', .. Enumerable.Range(0xD800, 0x800).Select(c => (char)c)];

    /// <summary>Characters that XML may forbid, so that what stands before and after them may come together (XML 1.0, §2.2).</summary>
    public static readonly SearchValues<char> MayBeLeftOut = SearchValues.Create(Suspects);

    /// <summary>What text cannot hold as it stands.</summary>
    private static readonly SearchValues<char> Special = SearchValues.Create([.. Suspects, '<', '>', '&', '"']);

    /// <summary>What most text is made of, and what is never escaped.</summary>
    private static readonly SearchValues<char> Simple = SearchValues.Create([.. Enumerable.Range(' ', '~' - ' ' + 1).Select(c => (char)c).Except(['<', '>', '&', '"'])]);

    private bool startTagIsOpen;
    private int depth;

    /// <summary>How many characters were left out because XML forbids them.</summary>
    public int DroppedCharacters { get; private set; }

    /// <summary>Whether a text is printable ASCII without mark-up.</summary>
    public static bool IsSimple(ReadOnlySpan<char> text) => !text.ContainsAnyExcept(Simple);

    /// <summary>How much has been written, to be asked for again by <see cref="Since"/>.</summary>
    public int Length => buffer.Length;

    /// <summary>What has been written since then.</summary>
    public ReadOnlySpan<byte> Since(int length) => buffer.WrittenSpan[length..];

    /// <summary>Starts a part.</summary>
    public void Declaration() => buffer.Write("<?xml version=\"1.0\" encoding=\"UTF-8\" standalone=\"yes\"?>\n"u8);

    /// <summary>Starts an element; it ends when the scope is disposed of.</summary>
    public Scope Element(ReadOnlySpan<byte> name)
    {
        var to = buffer.GetSpan(name.Length + 2);
        var at = CloseStartTag(to);
        to[at++] = (byte)'<';
        name.CopyTo(to[at..]);
        buffer.Advance(at + name.Length);
        startTagIsOpen = true;
        depth++;
        return new Scope(this, name);
    }

    /// <summary>An element without attributes or content.</summary>
    public void Empty(ReadOnlySpan<byte> name)
    {
        var to = buffer.GetSpan(name.Length + 4);
        var at = CloseStartTag(to);
        to[at++] = (byte)'<';
        name.CopyTo(to[at..]);
        "/>"u8.CopyTo(to[(at + name.Length)..]);
        buffer.Advance(at + name.Length + 2);
    }

    /// <summary>An element whose content is text.</summary>
    public void TextElement(ReadOnlySpan<byte> name, ReadOnlySpan<char> text)
    {
        using (Element(name)) Text(text);
    }

    /// <summary>The usual element that has just a <c>w:val</c>.</summary>
    public void Value(ReadOnlySpan<byte> name, ReadOnlySpan<byte> value)
    {
        using (Element(name)) Attribute("w:val"u8, value);
    }

    /// <summary>The usual element that has just a <c>w:val</c>.</summary>
    public void Value(ReadOnlySpan<byte> name, ReadOnlySpan<char> value)
    {
        using (Element(name)) Attribute("w:val"u8, value);
    }

    /// <summary>The usual element that has just a <c>w:val</c>.</summary>
    public void Value(ReadOnlySpan<byte> name, long value)
    {
        using (Element(name)) Attribute("w:val"u8, value);
    }

    /// <summary>An attribute whose value needs no escaping.</summary>
    public void Attribute(ReadOnlySpan<byte> name, ReadOnlySpan<byte> value)
    {
        var to = buffer.GetSpan(name.Length + value.Length + 4);
        var at = StartAttribute(to, name);
        value.CopyTo(to[at..]);
        at += value.Length;
        to[at++] = (byte)'"';
        buffer.Advance(at);
    }

    /// <summary>An attribute.</summary>
    public void Attribute(ReadOnlySpan<byte> name, ReadOnlySpan<char> value)
    {
        buffer.Advance(StartAttribute(buffer.GetSpan(name.Length + 3), name));
        Escape(value, inAttribute: true);
        buffer.Write("\""u8);
    }

    /// <summary>An attribute.</summary>
    public void Attribute(ReadOnlySpan<byte> name, long value)
    {
        var to = buffer.GetSpan(name.Length + 28);
        var at = StartAttribute(to, name);
        Utf8Formatter.TryFormat(value, to[at..], out var written);
        at += written;
        to[at++] = (byte)'"';
        buffer.Advance(at);
    }

    /// <summary>Text content.</summary>
    public void Text(ReadOnlySpan<char> text)
    {
        CloseStartTag();
        Escape(text, inAttribute: false);
    }

    /// <summary>A number as content, in the shortest form that reads back as itself.</summary>
    public void Text(double value)
    {
        CloseStartTag();
        Utf8Formatter.TryFormat(value, buffer.GetSpan(32), out var written);
        buffer.Advance(written);
    }

    /// <summary>A whole number as content.</summary>
    public void Text(long value)
    {
        CloseStartTag();
        Number(value);
    }

    /// <summary>Mark-up as it stands: whole elements only.</summary>
    public void Raw(ReadOnlySpan<byte> markup)
    {
        CloseStartTag();
        buffer.Write(markup);
    }

    private void Number(long value)
    {
        Utf8Formatter.TryFormat(value, buffer.GetSpan(24), out var written);
        buffer.Advance(written);
    }

    private int StartAttribute(Span<byte> to, ReadOnlySpan<byte> name)
    {
        Debug.Assert(startTagIsOpen, "An attribute must come before the element's content.");
        to[0] = (byte)' ';
        name.CopyTo(to[1..]);
        to[name.Length + 1] = (byte)'=';
        to[name.Length + 2] = (byte)'"';
        return name.Length + 3;
    }

    private void CloseStartTag() => buffer.Advance(CloseStartTag(buffer.GetSpan(1)));

    private int CloseStartTag(Span<byte> to)
    {
        if (!startTagIsOpen) return 0;
        to[0] = (byte)'>';
        startTagIsOpen = false;
        return 1;
    }

    /// <summary>Ends the element that started last, where no scope can.</summary>
    public void End(ReadOnlySpan<byte> name)
    {
        Debug.Assert(depth > 0, "More elements end than start.");
        depth--;
        if (startTagIsOpen)
        {
            buffer.Write("/>"u8);
            startTagIsOpen = false;
            return;
        }
        var to = buffer.GetSpan(name.Length + 3);
        to[0] = (byte)'<';
        to[1] = (byte)'/';
        name.CopyTo(to[2..]);
        to[name.Length + 2] = (byte)'>';
        buffer.Advance(name.Length + 3);
    }

    private void Escape(ReadOnlySpan<char> text, bool inAttribute)
    {
        if (IsSimple(text))
        {
            buffer.Advance(Encoding.UTF8.GetBytes(text, buffer.GetSpan(text.Length)));
            return;
        }
        while (true)
        {
            var special = text.IndexOfAny(Special);
            var plain = special < 0 ? text : text[..special];
            buffer.Advance(Encoding.UTF8.GetBytes(plain, buffer.GetSpan(plain.Length * 3)));
            if (special < 0) return;
            text = text[special..];
            text = text[EscapeOne(text, inAttribute)..];
        }
    }

    /// <summary>Writes the special character at the start; returns how many units it took.</summary>
    private int EscapeOne(ReadOnlySpan<char> text, bool inAttribute)
    {
        switch (text[0])
        {
            case '<': buffer.Write("&lt;"u8); return 1;
            case '>': buffer.Write("&gt;"u8); return 1;
            case '&': buffer.Write("&amp;"u8); return 1;
            case '"': buffer.Write(inAttribute ? "&quot;"u8 : "\""u8); return 1;
            case '\t': buffer.Write(inAttribute ? "&#9;"u8 : "\t"u8); return 1;
            case '\n': buffer.Write(inAttribute ? "&#10;"u8 : "\n"u8); return 1;
            case '\r': buffer.Write("&#13;"u8); return 1;
        }
        if (Rune.DecodeFromUtf16(text, out var rune, out _) == OperationStatus.Done && rune.Value is not (0xFFFE or 0xFFFF) && rune.Value >= 0x20)
        {
            buffer.Advance(rune.EncodeToUtf8(buffer.GetSpan(4)));
            return rune.Utf16SequenceLength;
        }
        DroppedCharacters++;
        return 1;
    }

    /// <summary>An element that has started.</summary>
    internal readonly ref struct Scope(Utf8XmlWriter xml, ReadOnlySpan<byte> name)
    {
        private readonly ReadOnlySpan<byte> name = name;

        public void Dispose() => xml.End(name);
    }
}
