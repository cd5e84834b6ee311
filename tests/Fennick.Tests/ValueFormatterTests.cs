using Fennick.Formatting;
using Xunit;

namespace Fennick.Tests;

public sealed class ValueFormatterTests
{
    public static TheoryData<object?, string?, string, string> Values => new()
    {
        { null, null, "en-GB", "—" },
        { double.NaN, null, "en-GB", "—" },
        { null, "0.0", "en-GB", "—" },
        { 0.0, null, "en-GB", "0" },
        { -0.0, null, "en-GB", "0" },
        { 24.4567, null, "en-GB", "24.46" },
        { 24.0, null, "en-GB", "24" },
        { 0.00123456, null, "en-GB", "0.001235" },
        { 1234.567, null, "en-GB", "1235" },
        { 12345.67, null, "en-GB", "12,346" },
        { 9999.7, null, "en-GB", "10,000" },
        { -12345.67, null, "de-DE", "−12.346" },
        { 1.5e-7, null, "en-GB", "1.5\u00A0×\u00A010⁻⁷" },
        { double.PositiveInfinity, null, "en-GB", "∞" },
        { 2025, null, "en-GB", "2025" },
        { 30210, null, "en-GB", "30,210" },
        { 30210, null, "de-DE", "30.210" },
        { -5, null, "en-GB", "−5" },
        { 0.853, "P0", "en-GB", "85%" },
        { 1.005m, "0.00", "en-GB", "1.01" },
        { 1234.5, "N1", "de-DE", "1.234,5" },
        { 7, "D3", "en-GB", "007" },
        { 5, "0 'kg'", "en-GB", "5 kg" },
        { "text", null, "en-GB", "text" },
    };

    [Theory]
    [MemberData(nameof(Values))]
    public void A_value_becomes_what_a_reader_expects(object? value, string? format, string language, string expected) =>
        Assert.Equal(expected, ValueFormatter.Format(value, format, Language.Find(language)!));

    [Theory]
    [InlineData("en-GB", null, "3 November 2025")]
    [InlineData("de-DE", null, "3. November 2025")]
    [InlineData("en-GB", "yyyy-MM-dd", "2025-11-03")]
    [InlineData("pt-PT", null, "3 de novembro de 2025")]
    public void A_date_is_written_as_the_language_does(string language, string? format, string expected) =>
        Assert.Equal(expected, ValueFormatter.Format(new DateOnly(2025, 11, 3), format, Language.Find(language)!));

    public static TheoryData<object?, string> WrongFormats => new()
    {
        { 1.5, "perecent 1" }, { 1.5, "D2" }, { 1.5, "kg" }, { 1.5, "." }, { "text", "0.0" }, { true, "N0" }, { null, "perecent" },
        { new DateOnly(2025, 1, 1), "0.0" }, { new DateOnly(2025, 1, 1), "yyyy-nn" }, { new DateOnly(2025, 1, 1), "HH:mm" }, { 1.5, "0.0 '" },
    };

    [Theory]
    [MemberData(nameof(WrongFormats))]
    public void A_format_that_does_not_fit_is_an_error_and_never_prints_itself(object? value, string format)
    {
        var problem = Assert.Throws<ValueFormatException>(() => ValueFormatter.Format(value, format, Language.Default));
        Assert.Contains($"`{format}` is no format for", problem.Message, StringComparison.Ordinal);
        Assert.NotNull(problem.Suggestion);
    }

    [Fact]
    public void A_sequence_is_no_value() =>
        Assert.Contains("cannot stand in a sentence", Assert.Throws<ValueFormatException>(() => ValueFormatter.Format(new[] { 1, 2 }, null, Language.Default)).Message, StringComparison.Ordinal);

    [Theory]
    [InlineData("15 cm", 8504)]
    [InlineData("8mm", 454)]
    [InlineData("6.5 in", 9360)]
    [InlineData("12 pt", 240)]
    public void A_length_reads_its_unit(string text, int twips)
    {
        Assert.True(Length.TryParse(text, out var length));
        Assert.Equal(twips, length.Twips);
    }

    [Theory]
    [InlineData("15")]
    [InlineData("cm")]
    [InlineData("15 km")]
    [InlineData("1e9 cm")]
    [InlineData(null)]
    public void What_is_no_length_is_refused(string? text) => Assert.False(Length.TryParse(text, out _));
}
