using Fennick.Manuscripts.Running;

namespace Fennick.Manuscripts.Provenance;

/// <summary>What a call may bring into a report beside its arguments.</summary>
internal enum CallKind
{
    /// <summary>Nothing, or only files that are declared by <see cref="Inputs.Declare"/>.</summary>
    Known,

    /// <summary>Perhaps files that nobody declares.</summary>
    Files,

    /// <summary>Something else at every call: the time, chance, the environment, other processes, the network.</summary>
    Changing,

    /// <summary>Whatever the program of a step reads that does not say it.</summary>
    Program,
}

/// <summary>The calls of which it is known what they bring into a report. Everything that does not stand here is not known.</summary>
internal static class KnownCalls
{
    private static readonly HashSet<string> Namespaces = new(StringComparer.Ordinal)
    {
        "System", "System.Linq", "System.Linq.Expressions", "System.Collections", "System.Collections.Generic", "System.Collections.Immutable", "System.Collections.Frozen", "System.Collections.Concurrent", "System.Collections.Specialized", "System.Collections.ObjectModel",
        "System.Text", "System.Text.RegularExpressions", "System.Text.Json", "System.Text.Json.Nodes", "System.Text.Json.Serialization", "System.Text.Json.Serialization.Metadata", "System.Text.Unicode", "System.Text.Encodings.Web", "System.Numerics", "System.Numerics.Tensors", "System.Globalization", "System.Buffers", "System.Buffers.Binary", "System.Buffers.Text",
        "System.Runtime.CompilerServices", "System.Runtime.Intrinsics", "System.Runtime.ExceptionServices", "System.Threading", "System.Threading.Tasks", "System.ComponentModel", "System.ComponentModel.DataAnnotations", "System.Diagnostics.CodeAnalysis", "System.Data", "System.Data.Common", "System.Xml", "System.Xml.Linq", "System.Xml.XPath", "System.Xml.Schema", "System.IO.Hashing",
    };

    private static readonly HashSet<string> Types = new(StringComparer.Ordinal)
    {
        "System.Diagnostics.Debug", "System.Diagnostics.UnreachableException", "System.Runtime.InteropServices.MemoryMarshal", "System.Runtime.InteropServices.CollectionsMarshal", "System.Runtime.InteropServices.ImmutableCollectionsMarshal",
        "System.IO.Path", "System.IO.Stream", "System.IO.MemoryStream", "System.IO.TextReader", "System.IO.TextWriter", "System.IO.StringReader", "System.IO.StringWriter", "System.IO.StreamReader", "System.IO.StreamWriter", "System.IO.BinaryReader", "System.IO.BinaryWriter", "System.IO.BufferedStream", "System.IO.SeekOrigin",
        "System.IO.IOException", "System.IO.InvalidDataException", "System.IO.FileNotFoundException", "System.IO.DirectoryNotFoundException", "System.IO.EndOfStreamException", "System.IO.Compression.GZipStream", "System.IO.Compression.DeflateStream", "System.IO.Compression.BrotliStream", "System.IO.Compression.ZLibStream", "System.IO.Compression.ZipArchive", "System.IO.Compression.ZipArchiveEntry",
        "System.Net.WebUtility", "System.Net.IPAddress", "System.Security.Cryptography.SHA1", "System.Security.Cryptography.SHA256", "System.Security.Cryptography.SHA384", "System.Security.Cryptography.SHA512", "System.Security.Cryptography.MD5", "System.Security.Cryptography.HashAlgorithm", "System.Security.Cryptography.IncrementalHash", "System.Security.Cryptography.HashAlgorithmName",
        "System.Reflection.MemberInfo", "System.Reflection.DefaultMemberAttribute",
    };

    // Of what is known, these bring something all the same. A member of `*` stands for all of a type.
    private static readonly Dictionary<string, CallKind> Members = new(StringComparer.Ordinal)
    {
        ["System.AppContext.*"] = CallKind.Changing,
        ["System.AppDomain.*"] = CallKind.Changing,
        [$"System.{nameof(Console)}.get_In"] = CallKind.Changing,
        [$"System.{nameof(Console)}.OpenStandardInput"] = CallKind.Changing,
        [$"System.{nameof(Console)}.Read"] = CallKind.Changing,
        [$"System.{nameof(Console)}.ReadKey"] = CallKind.Changing,
        [$"System.{nameof(Console)}.ReadLine"] = CallKind.Changing,
        ["System.DateTime.get_Now"] = CallKind.Changing,
        ["System.DateTime.get_Today"] = CallKind.Changing,
        ["System.DateTime.get_UtcNow"] = CallKind.Changing,
        ["System.DateTime.ToLocalTime"] = CallKind.Changing,
        ["System.DateTime.ToUniversalTime"] = CallKind.Changing,
        ["System.DateTimeOffset.get_LocalDateTime"] = CallKind.Changing,
        ["System.DateTimeOffset.get_Now"] = CallKind.Changing,
        ["System.DateTimeOffset.get_UtcNow"] = CallKind.Changing,
        ["System.DateTimeOffset.op_Implicit"] = CallKind.Changing,
        ["System.DateTimeOffset.ToLocalTime"] = CallKind.Changing,
        ["System.Environment.*"] = CallKind.Changing,
        ["System.GC.*"] = CallKind.Changing,
        ["System.Globalization.CultureInfo.get_CurrentUICulture"] = CallKind.Changing,
        ["System.Globalization.CultureInfo.get_InstalledUICulture"] = CallKind.Changing,
        ["System.Globalization.RegionInfo.get_CurrentRegion"] = CallKind.Changing,
        ["System.Guid.CreateVersion7"] = CallKind.Changing,
        ["System.Guid.NewGuid"] = CallKind.Changing,
        // Seeded anew in every process.
        ["System.HashCode.*"] = CallKind.Changing,
        ["System.Object.GetHashCode"] = CallKind.Changing,
        ["System.String.GetHashCode"] = CallKind.Changing,
        ["System.IO.Path.GetRandomFileName"] = CallKind.Changing,
        ["System.IO.Path.GetTempFileName"] = CallKind.Changing,
        ["System.IO.Path.GetTempPath"] = CallKind.Changing,
        ["System.IO.Path.Exists"] = CallKind.Files,
        ["System.Linq.Expressions.LambdaExpression.Compile"] = CallKind.Files,
        ["System.Random.get_Shared"] = CallKind.Changing,
        ["System.Random..ctor()"] = CallKind.Changing,
        ["System.TimeProvider.*"] = CallKind.Changing,
        ["System.TimeZoneInfo.get_Local"] = CallKind.Changing,
        ["System.Threading.Thread.get_CurrentThread"] = CallKind.Changing,
        ["System.Threading.Timer.*"] = CallKind.Changing,
        ["System.Threading.PeriodicTimer.*"] = CallKind.Changing,
        ["System.Type.GetType"] = CallKind.Files,
        ["System.Type.GetTypeFromProgID"] = CallKind.Files,
        ["System.Type.InvokeMember"] = CallKind.Files,
        ["System.Activator.CreateInstance(String"] = CallKind.Files,
        ["System.Activator.CreateInstanceFrom"] = CallKind.Files,
        ["System.Data.Common.DbProviderFactories.*"] = CallKind.Files,
        ["System.Data.Common.DbDataSource.*"] = CallKind.Files,
        ["System.Data.Common.DbProviderFactory.*"] = CallKind.Files,
        ["System.Xml.XmlTextReader..ctor(String"] = CallKind.Files,
        ["System.Xml.XmlUrlResolver.*"] = CallKind.Files,
        ["System.Xml.XmlDocument.Load(String"] = CallKind.Files,
        ["System.Xml.XmlReader.Create(String"] = CallKind.Files,
        ["System.Xml.Linq.XDocument.Load(String"] = CallKind.Files,
        ["System.Xml.Linq.XElement.Load(String"] = CallKind.Files,
        ["System.Xml.XPath.XPathDocument..ctor(String"] = CallKind.Files,
        ["System.Xml.Schema.XmlSchemaSet.Add(String"] = CallKind.Files,
        ["System.Data.DataSet.ReadXml(String"] = CallKind.Files,
        ["System.Data.DataSet.ReadXmlSchema(String"] = CallKind.Files,
        ["System.Data.DataTable.ReadXml(String"] = CallKind.Files,
        ["System.Data.DataTable.ReadXmlSchema(String"] = CallKind.Files,
        ["System.IO.StreamReader..ctor(String"] = CallKind.Files,
        ["System.IO.StreamWriter..ctor(String"] = CallKind.Files,
        ["System.Environment.get_NewLine"] = CallKind.Known,
        // How expressions are made; what they call is met by itself.
        ["System.Reflection.FieldInfo.GetFieldFromHandle"] = CallKind.Known,
        ["System.Reflection.MethodBase.GetMethodFromHandle"] = CallKind.Known,
    };

    // What well-known libraries read by, and nothing else.
    private static readonly Dictionary<string, string[]> Libraries = new(StringComparer.Ordinal)
    {
        ["Microsoft.Data.Analysis"] = ["DataFrame.LoadCsv", "DataFrame.LoadFrom", "DataFrame.FromArrowRecordBatch", "DataFrame.SaveCsv", "DataFrame.Sample", "DataFrame.ReadSql", "DataFrame.FromSql"],
        ["MathNet.Numerics"] = ["SystemRandomSource.", "CryptoRandomSource.", "RandomSeed.", "MersenneTwister..ctor()", "Mcg", "Mrg", "WH", "Xorshift", "Xoshiro", "Palf", ".Sample", "Control."],
    };

    private static readonly string[] ChangingNamespaces = ["System.Net", "System.Diagnostics", "System.Security", "System.Timers", "Microsoft.Win32"];

    /// <summary>What a call may bring into a report.</summary>
    /// <param name="assembly">The name of the library that the called member is in.</param>
    /// <param name="space">Its namespace.</param>
    /// <param name="type">Its type.</param>
    /// <param name="member">Its name in the compiled code, such as <c>get_Now</c>.</param>
    /// <param name="parameters">The names of the types of its parameters, with commas.</param>
    public static CallKind KindOf(string assembly, string space, string type, string member, string parameters)
    {
        if (assembly == "Fennick.Manuscripts" && member == nameof(ManuscriptRun.RunAnything)) return CallKind.Program;
        // What a server gives, nobody can know beforehand.
        if ((assembly == "Fennick.Data.Postgres" && type == "Postgres") || (assembly == "Fennick.Data" && type is "Query" or "WebFile")) return CallKind.Changing;
        if (assembly == "Fennick" || assembly.StartsWith("Fennick.", StringComparison.Ordinal)) return CallKind.Known;
        if (Libraries.TryGetValue(assembly, out var readers)) return readers.Any($"{type}.{member}({parameters})".Contains) ? CallKind.Files : CallKind.Known;
        var isSystem = assembly is "System" or "mscorlib" or "netstandard" || assembly.StartsWith("System.", StringComparison.Ordinal);
        var name = $"{space}.{type}";
        if (!isSystem) return CallKind.Files;
        if (Members.TryGetValue($"{name}.{member}", out var exact) || Members.TryGetValue($"{name}.{member}({parameters})", out exact) || Members.TryGetValue($"{name}.{member}({First(parameters)}", out exact) || Members.TryGetValue($"{name}.*", out exact)) return exact;
        if (Namespaces.Contains(space) || Types.Contains(name)) return CallKind.Known;
        return ChangingNamespaces.Any(n => space == n || space.StartsWith(n + ".", StringComparison.Ordinal)) ? CallKind.Changing : CallKind.Files;
    }

    private static string First(string parameters) => parameters.Split(',')[0];
}
