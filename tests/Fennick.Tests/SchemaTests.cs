using Fennick.Testing;
using Xunit;

namespace Fennick.Tests;

public sealed class SchemaTests
{
    /// <summary>With FENNICK_SCHEMA=write the table is written anew, after the validator's package has changed.</summary>
    [Fact]
    public void The_table_is_what_the_validator_goes_by()
    {
        var path = Repository.PathOf("src", "Fennick", "Schema", "Schema.txt");
        if (Environment.GetEnvironmentVariable("FENNICK_SCHEMA") == "write") File.WriteAllText(path, SchemaTable.Write());
        Assert.Equal(File.ReadAllText(path), SchemaTable.Write());
    }
}
