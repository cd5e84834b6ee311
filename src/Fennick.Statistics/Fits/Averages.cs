using System.Globalization;
using Fennick.Statistics.Numerics;
using Fennick.Statistics.Variables;

namespace Fennick.Statistics.Fits;

/// <summary>Average predictions and average marginal effects of a fit, with errors by the delta method.</summary>
internal sealed class Averages(RegressionFit fit)
{
    private readonly FitBasis basis = fit.Basis;
    private readonly ModelData data = fit.Basis.Data;

    public IReadOnlyList<AverageEffect> Predictions(string name)
    {
        if (Find(name).Variable is not FactorVariable factor) throw new AnalysisException($"`{name}` is not a factor of the model");
        return [.. Levels(factor).Select(level => ToEffect(level, Mean(With(factor, level))))];
    }

    /// <summary>Average predictions if every row had each of some values of a variable, and one level of a factor if that is given.</summary>
    public IReadOnlyList<AverageEffect> PredictionsAt(string name, IReadOnlyList<double> values, string? factorName, string? level)
    {
        var (variable, member) = Find(name);
        if (variable is FactorVariable) throw new AnalysisException($"`{name}` is a factor; ask for the prediction of each level");
        var factor = factorName is null ? null : Find(factorName).Variable as FactorVariable ?? throw new AnalysisException($"`{factorName}` is not a factor of the model");
        var place = factor is null ? -1 : factor.Levels.IndexOf(level!);
        if (factor is not null && place < 0) throw new AnalysisException($"the factor `{factorName}` has no level `{level}`; its levels are {string.Join(", ", factor.Levels.Select(l => $"`{l}`"))}");
        return [.. values.Select(v => ToEffect(v.ToString(CultureInfo.InvariantCulture), Mean(WithValue(variable, member, v, factor, place))))];
    }

    /// <summary>The values of a variable, or of the member that terms are computed from, in the rows used; empty if only a part of a term is computed from it.</summary>
    public double[] ValuesOf(string name) => Find(name).Variable is NumericVariable numeric ? [.. data.Rows.Select(r => numeric.Values[r])] : [];

    /// <summary>The levels of a factor in the rows used, the reference first.</summary>
    public IReadOnlyList<string> LevelsOf(string name) => Find(name).Variable is FactorVariable factor ? Levels(factor) : throw new AnalysisException($"`{name}` is not a factor of the model");

    private DesignMatrix WithValue(Variable? variable, Member? member, double value, FactorVariable? factor, int place)
    {
        var constant = variable is null ? [] : new double[variable.Count];
        Array.Fill(constant, value);
        return data.Plan!.Apply(data.Specification, data.Rows, Changed, data.Design).Without(basis.Dropped);

        Variable Changed(Variable own)
        {
            if (factor is not null && own.Name == factor.Name && own is FactorVariable same) return same with { Codes = [.. same.Codes.Select(c => c < 0 ? c : place)] };
            if (factor?.Member is { } of && own is NumericVariable level && own.DependsOn(of)) own = Defined(level with { Values = level.Formula!.ValuesWith(of, factor.LevelValues[place]) });
            if (member is null) return own.Name == variable!.Name ? ((NumericVariable)own) with { Values = constant } : own;
            if (!own.DependsOn(member)) return own;
            if (own is not NumericVariable numeric) throw new AnalysisException($"the factor `{own.Name}` is made from `{member.Name}` too, so that it cannot change by itself");
            return Defined(own.Member is not null ? numeric with { Values = [.. numeric.Values.Select(v => double.IsNaN(v) ? v : value)] } : numeric with { Values = numeric.Formula!.ValuesWith(member, value) });
        }

        NumericVariable Defined(NumericVariable changed) => data.Rows.Any(changed.IsMissing) ? throw new AnalysisException($"`{changed.Name}` is not defined in every row at {value.ToString(CultureInfo.InvariantCulture)}") : changed;
    }

    public IReadOnlyList<AverageEffect> Effects(string name)
    {
        var (variable, member) = Find(name);
        if (variable is not FactorVariable factor) return [ToEffect(name, Slope(variable, member, name))];
        var levels = Levels(factor);
        var reference = Mean(With(factor, levels[0]));
        return [.. levels.Skip(1).Select(level => ToEffect(level, Difference(Mean(With(factor, level)), reference)))];
    }

    /// <summary>An average and its gradient: factors of the groups' fitted means, and of the slopes from the groups' means.</summary>
    private sealed record Average(double Value, double[] Groups, double[] Centred, bool HasEffects);

    private static Average Difference(Average a, Average b) => new(a.Value - b.Value, FitBasis.Difference(a.Groups, b.Groups), FitBasis.Difference(a.Centred, b.Centred), false);

    private AverageEffect ToEffect(string name, Average average)
    {
        var combination = basis.Factorisation.Combine([.. average.Groups.Select((factor, group) => (group, factor)).Where(g => g.factor != 0)], average.Centred);
        var variance = fit.CovarianceOf(combination, combination);
        // Two absorbed groupings are no groups of the design: their mean effect has an error too.
        if (average.HasEffects) variance = basis.VarianceOfRows(fit.StandardErrors, RowWeightsOfMean(average.Centred));
        return new AverageEffect(name, average.Value, Math.Sqrt(variance), fit.TestDegreesOfFreedom);
    }

    private double[] RowWeightsOfMean(double[] centred)
    {
        var n = (double)data.Rows.Length;
        var factors = data.Absorbed.Select(a =>
        {
            var (codes, count) = AbsorbedRows.Compact(a, data.Rows);
            var shares = new double[count];
            foreach (var code in codes) shares[code] += 1 / n;
            return shares;
        }).ToArray();
        var raw = data.Design.Without(basis.Dropped);
        return AbsorbedRows.RowWeights(fit, factors, [.. centred.Select((c, j) => c + (Vectors.Sum(raw.Column(j)) / n))]);
    }

    /// <summary>The variable of a name, and the member of the record that it is, if it is one.</summary>
    private (Variable? Variable, Member? Member) Find(string name)
    {
        var all = data.Specification.SelectMany(t => t.Factors).ToArray();
        var named = data.Specification.FirstOrDefault(t => t.Name == name && t.Factors.Count == 1)?.Factors[0] ?? all.FirstOrDefault(v => v.Name == name);
        if (named is FactorVariable or { Formula: null } or { Member: not null }) return (named, named.Member);
        if (named is not null)
        {
            // What is computed can be moved by itself only if nothing else is computed from the same members.
            foreach (var member in named.Formula!.Members)
                if (all.FirstOrDefault(v => v.Name != named.Name && v.DependsOn(member)) is { } other)
                    throw new AnalysisException($"`{name}` is computed from `{member.Name}`, and so is `{other.Name}`: it cannot change by itself; ask for the effect of `{member.Name}`");
            return (named, null);
        }
        var members = all.SelectMany(v => v.Formula?.Members ?? []).Where(m => m.Name == name || m.Path == name).Distinct().ToArray();
        if (members.Length > 1) throw new AnalysisException($"`{name}` may be {string.Join(" or ", members.Select(m => $"`{m.Path}`"))}; name one of them");
        if (members.Length == 1) return (null, members[0]);
        throw new AnalysisException($"the model has no variable `{name}`; its variables are {string.Join(", ", all.Select(v => v.Name).Concat(all.SelectMany(v => v.Formula?.Members ?? []).Select(m => m.Name)).Distinct().Select(v => $"`{v}`"))}");
    }

    /// <summary>The levels of a factor in the rows used, the reference first.</summary>
    private List<string> Levels(FactorVariable factor)
    {
        var present = data.Rows.Select(r => factor.Codes[r]).Distinct().Order().ToList();
        var reference = present.Contains(factor.Reference) ? factor.Reference : present[0];
        return [factor.Levels[reference], .. present.Where(l => l != reference).Select(l => factor.Levels[l])];
    }

    /// <summary>The design of the rows used as if every row had a level of a factor, in every term that the factor stands in.</summary>
    private DesignMatrix With(FactorVariable factor, string level)
    {
        var place = factor.Levels.IndexOf(level);
        if (InGroup(factor, level) is { } group) return group;
        var member = factor.Member;
        var design = data.Plan!.Apply(data.Specification, data.Rows, variable =>
        {
            if (variable.Name == factor.Name && variable is FactorVariable same) return same with { Codes = [.. same.Codes.Select(c => c < 0 ? c : place)] };
            if (member is null || !variable.DependsOn(member)) return variable;
            if (variable is not NumericVariable numeric) throw new AnalysisException($"the factor `{variable.Name}` is made from `{member.Name}` too, so that `{factor.Name}` cannot change by itself");
            var changed = numeric with { Values = numeric.Formula!.ValuesWith(member, factor.LevelValues[place]) };
            return data.Rows.Any(changed.IsMissing) ? throw new AnalysisException($"`{variable.Name}` is not defined in every row if `{factor.Name}` is `{level}`") : changed;
        }, data.Design);
        return design.Without(basis.Dropped);
    }

    /// <summary>The design with all rows in the group of a level, if the factor's levels are the design's groups and nothing else depends on it.</summary>
    private DesignMatrix? InGroup(FactorVariable factor, string level)
    {
        if (data.Plan?.HasGroups != true) return null;
        var member = factor.Member;
        if (data.Specification.SelectMany(t => t.Factors).Count(v => v.Name == factor.Name || (member is not null && v.DependsOn(member))) != 1) return null;
        var design = data.Design.Without(basis.Dropped);
        var own = Enumerable.Range(0, design.ColumnCount).Where(c => c != design.Intercept && design.GroupsOf[c].Group >= 0).ToArray();
        if (design.Terms[own[0]].Variable != factor.Name && design.Terms[own[0]].Name != $"{factor.Name}={design.Terms[own[0]].Level}") return null;
        var group = own.Where(c => design.Terms[c].Level == level).Select(c => design.GroupsOf[c].Group).FirstOrDefault(design.GroupsOf[own[0]].Reference);
        var codes = new int[design.RowCount];
        Array.Fill(codes, group);
        return design.InGroups(codes);
    }

    /// <summary>The mean of predictions for a design, and its gradient.</summary>
    private Average Mean(DesignMatrix design)
    {
        var split = basis.Factorisation;
        var (groups, centred) = (new double[split.GroupTotals.Length], new double[split.Size]);
        double n = design.RowCount;
        if (basis.Absorption is not null)
        {
            // The effects stay as they are: the average moves from that of the fitted values.
            var (raw, own) = (data.Design.Without(basis.Dropped), split.ColumnsOf(design));
            var mean = fit.Fitted.Sum() / n;
            for (var j = 0; j < own.Length; j++)
            {
                var observed = raw.Column(split.Dense[j]);
                for (var i = 0; i < observed.Length; i++) centred[j] += (own[j][i] - observed[i]) / n;
                mean += centred[j] * basis.Slopes[j];
            }
            if (basis.Absorption.Single is not { } single) return new Average(mean, groups, centred, HasEffects: true);
            var (absorbing, before) = (raw.Absorbing(single), split.ColumnsOf(raw));
            for (var i = 0; i < design.RowCount; i++) split.AddRow(absorbing, before, i, 1 / n, groups, centred);
            return new Average(mean, groups, centred, HasEffects: false);
        }
        var columns = split.ColumnsOf(design);
        var sum = 0.0;
        if (basis.IsLinear)
        {
            // The mean of linear predictions is that of the mean row.
            for (var i = 0; i < design.RowCount; i++) split.AddRow(design, columns, i, 1 / n, groups, centred);
            return new Average(Vectors.Dot(groups, basis.Centres) + Vectors.Dot(centred, basis.Slopes), groups, centred, HasEffects: false);
        }
        for (var i = 0; i < design.RowCount; i++)
        {
            var (value, slope, _) = basis.Mean(split.Linear(design, columns, i, basis.Centres, basis.Slopes) + (data.Offset?[i] ?? 0));
            sum += value;
            split.AddRow(design, columns, i, slope / n, groups, centred);
        }
        return new Average(sum / n, groups, centred, HasEffects: false);
    }

    /// <summary>The mean slope with respect to a member of the record, or to a variable that is none, and its gradient.</summary>
    private Average Slope(Variable? variable, Member? member, string name)
    {
        var split = basis.Factorisation;
        if (member is not null && data.Specification.SelectMany(t => t.Factors).FirstOrDefault(v => v is FactorVariable && v.DependsOn(member)) is { } jumping)
            throw new AnalysisException($"the factor `{jumping.Name}` is made from `{member.Name}` too and jumps with it, so that `{name}` has no slope");
        var whole = data.Plan!.Slopes(data.Specification, data.Rows, v => v is not NumericVariable ? null
            : member is null ? (v.Name == variable!.Name ? Ones(v.Count) : null)
            : v.DependsOn(member) ? v.Formula!.Slopes(member) : null);
        double[]?[] slopes = [.. whole.Where((_, c) => !basis.Dropped.Contains(c))];
        var moving = Enumerable.Range(0, split.Size).Where(j => slopes[split.Dense[j]] is not null).ToArray();
        var (groups, centred) = (new double[split.GroupTotals.Length], new double[split.Size]);
        var design = data.Design.Without(basis.Dropped);
        var columns = split.ColumnsOf(design);
        double n = design.RowCount;
        var sum = 0.0;
        for (var i = 0; i < design.RowCount; i++)
        {
            var change = moving.Sum(j => basis.Slopes[j] * slopes[split.Dense[j]]![i]);
            var (_, slope, curvature) = basis.IsLinear ? (0, 1, 0) : basis.Mean(split.Linear(design, columns, i, basis.Centres, basis.Slopes) + (data.Offset?[i] ?? 0));
            sum += slope * change;
            foreach (var j in moving) centred[j] += slope * slopes[split.Dense[j]]![i] / n;
            if (curvature != 0) split.AddRow(design, columns, i, curvature * change / n, groups, centred);
        }
        return double.IsFinite(sum) ? new Average(sum / n, groups, centred, HasEffects: false)
            : throw new AnalysisException($"the slope of `{name}` is not finite in every row: a term has a vertical or no tangent there");

        static double[] Ones(int count)
        {
            var ones = new double[count];
            Array.Fill(ones, 1);
            return ones;
        }
    }
}
