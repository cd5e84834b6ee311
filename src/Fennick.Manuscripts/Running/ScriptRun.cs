using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using Fennick.Data.Reading;
using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Manuscripts.Steps;
using Fennick.Pictures;
using Fennick.Plots;
using Fennick.Running;

namespace Fennick.Manuscripts.Running;

/// <summary>What a step does that runs a program: its words with the values of now, the files that come and go, and its result.</summary>
internal sealed class ScriptRun
{
    private readonly Script script;
    private readonly string folder;
    private readonly ImmutableArray<string> words;
    private readonly ImmutableArray<string> writes;

    /// <param name="script">The program.</param>
    /// <param name="folder">The folder of the file in which the step stands.</param>
    /// <param name="argument">The text of a value in its words.</param>
    public ScriptRun(Script script, string folder, Func<ValueHole, string> argument)
    {
        this.script = script;
        this.folder = folder;
        words = Words(script.Command, argument);
        writes = List(script.Writes, argument);
        Reads = List(script.Reads, argument);
        if (words.IsEmpty) throw new ReportException(Diagnostic.Error(script.Command.Place, "the step does not say what it runs"));
    }

    /// <summary>The files that the step says it reads.</summary>
    private ImmutableArray<string> Reads { get; }

    /// <summary>The program and its arguments as a shell would show them.</summary>
    public string Command => string.Join(' ', words.Select(w => w.Any(char.IsWhiteSpace) ? $"\"{w}\"" : w));

    /// <summary>A value as programs read it: numbers with a point, dates by ISO 8601.</summary>
    /// <exception cref="ReportException">It is nothing, or not a single value.</exception>
    public static string TextOf(object? value, string expression) => value switch
    {
        null => throw new ReportException(Diagnostic.Error(null, $"`{expression}` is nothing (null), which cannot be handed to a program", "give a value")),
        string text => text,
        bool flag => flag ? "true" : "false",
        DateOnly date => date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
        DateTime { TimeOfDay.Ticks: 0 } day => day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
        DateTime or DateTimeOffset => ((IFormattable)value).ToString("s", CultureInfo.InvariantCulture),
        Enum or char or IFormattable => Convert.ToString(value, CultureInfo.InvariantCulture)!,
        _ => throw new ReportException(Diagnostic.Error(null, $"`{expression}` is {Formatting.ValueFormatter.DescribeType(value)}, not a single value that can be handed to a program", "write a file in a `csharp prepare` step, and hand over its name")),
    };

    /// <summary>Runs the program.</summary>
    /// <param name="role">What becomes of its result.</param>
    /// <param name="input">What it reads from its standard input.</param>
    /// <returns>A table, a picture or a text as the role asks for it; null for a role that asks for none.</returns>
    /// <exception cref="ReportException">It fails, or what it gave is not what the role asks for.</exception>
    public object? Run(StepRole role, string input)
    {
        foreach (var file in Reads)
            if (FileStamp.Of(Full(file)).Length < (FileStamp.IsPattern(Full(file)) ? 1 : 0)) throw new ReportException(Diagnostic.Error(script.Reads!.Place, $"there is no file `{file}`, which this step reads"));
        string[] read = [.. Reads, .. words.Where(w => !writes.Contains(w) && File.Exists(Full(w)))];
        foreach (var file in read) FilesRead.Note(Full(file));
        var before = writes.Select(w => FileStamp.Of(Full(w))).ToArray();
        foreach (var file in writes)
            if (Path.GetDirectoryName(Full(file)) is { } into) Directory.CreateDirectory(into);
        var (output, errors) = ScriptProcess.Run(words, folder, input, script.Limit, RunContext.Current?.Stop ?? default);
        StepConsole.Take(errors);
        for (var i = 0; i < writes.Length; i++)
        {
            var after = FileStamp.Of(Full(writes[i]));
            if (after.Length < 0) throw new ReportException(Diagnostic.Error(script.Writes!.Place, $"`{Command}` did not write `{writes[i]}`", "see under which name it writes its result; names start from the folder of the manuscript"));
            if (after == before[i]) throw new ReportException(Diagnostic.Error(script.Writes!.Place, $"`{Command}` left `{writes[i]}` as it was before", "let it write its result each time, so that no old one can stand in the report"));
            // Who changes it by hand wants it made again.
            FilesRead.Note(after);
        }
        if (writes.IsEmpty) return Result(role, output, "its output");
        StepConsole.Take(Text(output, "its output"));
        return role == StepRole.Prepare || role == StepRole.Show ? null : Result(role, File.ReadAllBytes(Full(writes[0])), writes[0]);
    }

    private object? Result(StepRole role, byte[] bytes, string name)
    {
        if (role is StepRole.Prepare or StepRole.Show)
        {
            StepConsole.Take(Text(bytes, name));
            return null;
        }
        var source = name == "its output" ? $"the output of `{Command}`" : name;
        if (bytes.AsSpan().IndexOfAnyExcept(" \t\r\n"u8) < 0) throw new ReportException(Diagnostic.Error(null, $"{source} is empty", role == StepRole.Table ? "let it write a table as CSV or JSON" : role == StepRole.Figure ? "let it write a picture, or name the file that it writes by `writes:`" : "let it write Markdown"));
        return role switch
        {
            StepRole.Table => WrittenTable.Read(source, bytes),
            StepRole.Figure => PictureOf(bytes, source),
            _ => Text(bytes, name).TrimEnd(),
        };
    }

    private static Picture PictureOf(byte[] bytes, string source)
    {
        try
        {
            return Picture.Read(new MemoryStream(bytes), PictureTools.Instance);
        }
        catch (ReportException problem)
        {
            throw new ReportException([Diagnostic.Error(null, $"{source} cannot be placed as a figure: {problem.Diagnostics[0].Message}", problem.Diagnostics[0].Suggestion)], problem);
        }
    }

    private static string Text(byte[] bytes, string name)
    {
        try
        {
            return new UTF8Encoding(encoderShouldEmitUTF8Identifier: false, throwOnInvalidBytes: true).GetString(bytes).ReplaceLineEndings("\n").TrimStart('\uFEFF');
        }
        catch (DecoderFallbackException problem)
        {
            throw new ReportException([Diagnostic.Error(null, $"{name} is not text in UTF-8", "let the program write UTF-8")], problem);
        }
    }

    private string Full(string file) => Path.GetFullPath(file, folder);

    private static ImmutableArray<string> List(LabelTemplate? words, Func<ValueHole, string> argument) => words is null ? []
        : [.. string.Concat(words.Parts.Select(p => p.Value is { } value ? argument(value) : p.Text)).Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)];

    /// <summary>The words of a command: quotation marks hold together what has spaces, and a value is never parted.</summary>
    private static ImmutableArray<string> Words(LabelTemplate command, Func<ValueHole, string> argument)
    {
        var words = ImmutableArray.CreateBuilder<string>();
        StringBuilder? word = null;
        var quote = '\0';
        foreach (var (text, value) in command.Parts)
        {
            if (value is not null) (word ??= new StringBuilder()).Append(argument(value));
            for (var i = 0; i < text.Length; i++)
            {
                var letter = text[i];
                if (letter == '\\' && i + 1 < text.Length && text[i + 1] is '"' or '\'') (word ??= new StringBuilder()).Append(text[++i]);
                else if (quote != '\0' && letter == quote) quote = '\0';
                else if (quote == '\0' && letter is '"' or '\'') (quote, word) = (letter, word ?? new StringBuilder());
                else if (quote != '\0' || !char.IsWhiteSpace(letter)) (word ??= new StringBuilder()).Append(letter);
                else if (word is not null) Complete();
            }
        }
        if (quote != '\0') throw new ReportException(Diagnostic.Error(command.Place, $"a {quote} of this command has no end", "close it"));
        if (word is not null) Complete();
        return words.ToImmutable();

        void Complete()
        {
            words.Add(word!.ToString());
            word = null;
        }
    }
}
