using System.Collections.Concurrent;
using Fennick.Diagnostics;
using Fennick.Files;
using Fennick.Manuscripts.Running;
using Fennick.Running;

namespace Fennick.Manuscripts;

/// <summary>What the units of a batch share.</summary>
public static class Sharing
{
    /// <summary>
    /// A value that is made once, whoever asks first, and is the same for all units of a batch (of its process, where there are several): data that is read, a model of all of them. Outside a batch it
    /// is made once for each run. The function must not use variables of the manuscript, or one unit would get what belongs to another; and
    /// nobody may change the value.
    /// </summary>
    /// <param name="name">What the value is known by.</param>
    /// <param name="make">Makes it; it uses nothing but what it makes or gets by <c>Once</c> itself.</param>
    /// <exception cref="ReportException">The function uses variables from around it, or the name is that of a value of another type.</exception>
    /// <example><code>var hives = Once("hives", () => Csv.Read&lt;Hive&gt;("data/hives.csv"));</code></example>
    public static T Once<T>(string name, Func<T> make)
    {
        ArgumentNullException.ThrowIfNull(name);
        ArgumentNullException.ThrowIfNull(make);
        // A function that uses nothing from around it has nothing to keep it in.
        if (make.Target?.GetType().GetFields(System.Reflection.BindingFlags.Instance | System.Reflection.BindingFlags.Public | System.Reflection.BindingFlags.NonPublic).Length > 0)
        {
            throw new ReportException(Diagnostic.Error(null, $"`Once(\"{name}\", …)` is shared by all units, but its function uses variables from around it",
                "let it use nothing but files and other `Once` values, and pick out what belongs to the unit behind it"));
        }
        return ((RunContext.Current as StepContext)?.Shared ?? new Store()).Get(name, make);
    }

    /// <summary>The values of one batch, or of one run.</summary>
    internal sealed class Store
    {
        private readonly ConcurrentDictionary<string, Lazy<(object? Value, Type Type, IReadOnlyList<FileStamp> Files)>> values = new(StringComparer.Ordinal);

        public T Get<T>(string name, Func<T> make)
        {
            var (value, type, files) = Find(name, make);
            // Whoever uses the value has been made from what it was read from.
            foreach (var file in files) FilesRead.Note(file);
            return type == typeof(T) ? (T)value!
                : throw new ReportException(Diagnostic.Error(null, $"`Once(\"{name}\", …)` stands for values of two types, `{type.Name}` and `{typeof(T).Name}`", "give one of them another name"));
        }

        private (object? Value, Type Type, IReadOnlyList<FileStamp> Files) Find<T>(string name, Func<T> make)
        {
            while (true)
            {
                var entry = values.GetOrAdd(name, _ => new(() =>
                {
                    using var read = FilesRead.Begin();
                    object? made = make();
                    return (made, typeof(T), read.Files);
                }));
                try
                {
                    return entry.Value;
                }
                catch (ThreadAbortException)
                {
                    // The unit that was making it has been ended, which says nothing about it: another one makes it. In the ended one the exception goes on by itself.
                    values.TryRemove(KeyValuePair.Create(name, entry));
                }
            }
        }
    }
}
