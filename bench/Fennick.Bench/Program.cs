// Benchmarks report ratios of one run: dotnet run -c Release --project bench/Fennick.Bench -- [write|statistics|tables|charts|houses|layout|watch|forms|batches|data|living]
using Fennick.Bench;

return args switch
{
    [] or ["write"] => WritingBenchmark.Run(),
    ["statistics"] => StatisticsBenchmark.Run(),
    ["tables"] => TablesBenchmark.Run(),
    ["charts"] => ChartsBenchmark.Run(),
    ["houses"] => HousesBenchmark.Run(),
    ["layout"] => LayoutBenchmark.Run(),
    ["watch"] => WatchBenchmark.Run(),
    ["forms"] => FormsBenchmark.Run(),
    ["batches"] => BatchBenchmark.Run(),
    ["data"] => DataBenchmark.Run(),
    ["living"] => LivingBenchmark.Run(),
    _ => Unknown(args[0]),
};

static int Unknown(string name)
{
    Console.Error.WriteLine($"there is no benchmark `{name}`; the benchmarks are: write, statistics, tables, charts, houses, layout, watch, forms, batches, data, living");
    return 2;
}
