namespace Fennick.Tables;

/// <summary>What can become a table.</summary>
public interface ITableSource
{
    /// <summary>The table.</summary>
    Table ToTable();
}
