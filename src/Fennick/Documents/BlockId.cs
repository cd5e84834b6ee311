namespace Fennick.Documents;

/// <summary>One occurrence of a block: its place in the report, counted from 0 with every block before the blocks inside it.</summary>
/// <remarks>The same table record may be placed twice; numbers and pages belong to the occurrence.</remarks>
internal readonly record struct BlockId(int Index);

/// <summary>Gives the blocks of a report their ids; every stage that walks a report in order counts with one of these.</summary>
internal sealed class BlockCounter
{
    private int next;

    public BlockId Next() => new(next++);
}
