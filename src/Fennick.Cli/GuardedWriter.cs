using System.Text;

namespace Fennick.Cli;

/// <summary>Writes to the console; where nobody takes what is written (a full disk, a closed stream) something else happens instead of an exception of the system.</summary>
/// <param name="console">The console's own writer.</param>
/// <param name="fail">What is done then.</param>
internal sealed class GuardedWriter(TextWriter console, Action<Exception> fail) : TextWriter
{
    public override Encoding Encoding => console.Encoding;

    public override void Write(char value) => Try(() => console.Write(value));

    public override void Write(char[] buffer, int index, int count) => Try(() => console.Write(buffer, index, count));

    public override void Write(string? value) => Try(() => console.Write(value));

    public override void WriteLine(string? value) => Try(() => console.WriteLine(value));

    public override void Flush() => Try(console.Flush);

    private void Try(Action write)
    {
        try
        {
            write();
        }
        catch (Exception problem) when (problem is IOException or UnauthorizedAccessException)
        {
            fail(problem);
        }
    }
}
