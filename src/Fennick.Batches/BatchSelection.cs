namespace Fennick.Batches;

/// <summary>Which units a batch makes.</summary>
public enum BatchSelection
{
    /// <summary>Those whose manuscript, parameters, house or data have changed since they were made, and those that are not there.</summary>
    Changed,

    /// <summary>Those that failed, or did not come to their end, when they were run last.</summary>
    Failed,

    /// <summary>All.</summary>
    All,
}
