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
        Assert.Contains($"`{format}` is not a format for", problem.Message, StringComparison.Ordinal);
        Assert.NotNull(problem.Suggestion);
    }

    [Fact]
    public void Numbers_of_any_size_and_dates_of_any_calendar_are_written()
    {
        var big = System.Numerics.BigInteger.Pow(10, 25);
        Assert.Equal("1,000,000,000,000,000,000,000,000,000%", ValueFormatter.Format(big, "percent", Language.Default));
        Assert.Contains("wants a number of ordinary size", Assert.Throws<ValueFormatException>(() => ValueFormatter.Format(big * 1000, "number 1", Language.Default)).Message, StringComparison.Ordinal);
        Assert.Equal("7\u00A0kg", ValueFormatter.Format((Int128)7, "unit kg", Language.Default));
        var early = new DateOnly(1850, 3, 4);
        foreach (var tag in (string[])["ar-SA", "th-TH", "fa-IR", "ja-JP", "he-IL"])
            foreach (var format in (string?[])[null, "d MMMM yyyy", "D", "date yyyy"]) Assert.NotEmpty(ValueFormatter.Format(early, format, Language.Find(tag)!));
        Assert.Equal("1850", ValueFormatter.Format(early, "yyyy", Language.Find("ar-SA")!));
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

    [Theory]
    [InlineData("en-GB", 1234.5, "money EUR", "€1,234.50")]
    [InlineData("de-DE", -1234.5, "money EUR", "−1.234,50\u00A0€")]
    [InlineData("fr-FR", 1234.5, "money CHF 0", "1\u202F235\u00A0CHF")]
    [InlineData("en-US", 1234.5, "money CHF", "CHF\u00A01,234.50")]
    [InlineData("en-GB", 1234.5, "money JPY", "¥1,235")]
    [InlineData("en-GB", 12.345, "unit kg", "12.35\u00A0kg")]
    [InlineData("en-GB", 12.345, "number 1 | unit kg", "12.3\u00A0kg")]
    [InlineData("en-GB", 0.4567, "percent 1", "45.7%")]
    [InlineData("de-DE", 0.4567, "percent", "46\u00A0%")]
    [InlineData("en-GB", 1234.567, "number 2", "1,234.57")]
    [InlineData("en-GB", 1.25, "signed 1", "+1.3")]
    [InlineData("en-GB", -1.25, "signed 1", "−1.3")]
    [InlineData("en-GB", 0.001, "signed 1", "0.0")]
    [InlineData("en-GB", 1234567, "thousands", "1,234,567")]
    [InlineData("en-GB", 21, "ordinal", "21st")]
    [InlineData("en-GB", 112, "ordinal", "112th")]
    [InlineData("de-DE", 3, "ordinal", "3.")]
    [InlineData("fr-FR", 1, "ordinal", "1er")]
    [InlineData("sv-SE", 22, "ordinal", "22:a")]
    [InlineData("en-GB", 121, "words", "one hundred and twenty-one")]
    [InlineData("en-US", 121, "words", "one hundred twenty-one")]
    [InlineData("de-DE", 1, "words", "eins")]
    [InlineData("pl-PL", 21, "words", "dwadzieścia jeden")]
    [InlineData("en-GB", 21, "words | title", "Twenty-One")]
    [InlineData("en-GB", 21, "words | sentence", "Twenty-one")]
    [InlineData("en-GB", "amber bees", "upper", "AMBER BEES")]
    [InlineData("en-GB", "Amber", "lower", "amber")]
    [InlineData("en-GB", 0.0321, "p-value", "=\u00A00.032")]
    [InlineData("de-DE", 0.0321, "p-value bare", "0,032")]
    [InlineData("en-GB", 0.0000123, "power-of-ten -5 2", "1.23\u00A0×\u00A010⁻⁵")]
    [InlineData("en-GB", -3.5e-6, "power-of-ten -5 2", "−0.35\u00A0×\u00A010⁻⁵")]
    [InlineData("de-DE", 1.5e12, "power-of-ten 12 1", "1,5\u00A0×\u00A010¹²")]
    [InlineData("en-GB", 0.0, "power-of-ten -5 2", "0.00\u00A0×\u00A010⁻⁵")]
    [InlineData("en-GB", double.NaN, "money EUR", "—")]
    [InlineData("en-GB", null, "unit kg", "—")]
    [InlineData("en-GB", 1.5, "0.00 | unit kg", "1.50\u00A0kg")]
    public void Named_formats_and_chains(string tag, object? value, string format, string text) => Assert.Equal(text, ValueFormatter.Format(value, format, Language.Find(tag)!));

    [Theory]
    [InlineData("list", "Amber, Dusk, Heath")]
    [InlineData("list and", "Amber, Dusk and Heath")]
    [InlineData("lower | list or", "amber, dusk or heath")]
    public void Lists_join_their_items(string format, string text) => Assert.Equal(text, ValueFormatter.Format(new[] { "Amber", "Dusk", "Heath" }, format, Language.Default));

    [Fact]
    public void Items_are_formatted_one_by_one_before_they_are_joined()
    {
        Assert.Equal("10.0%, — und 30.5%".Replace("%", "\u00A0%", StringComparison.Ordinal).Replace('.', ','), ValueFormatter.Format(new double?[] { 0.1, null, 0.305 }, "percent 1 | list and", Language.Find("de")!));
        Assert.Equal("one", ValueFormatter.Format(new[] { "one" }, "list and", Language.Default));
        Assert.Equal("", ValueFormatter.Format(Array.Empty<string>(), "list and", Language.Default));
        Assert.Equal("[1.2, 3.5]", ValueFormatter.Format(new Fennick.Statistics.Fits.Interval(1.234, 3.456), "interval 1", Language.Default));
        Assert.Equal("[1,2; 3,5]", ValueFormatter.Format((1.234, 3.456), "interval 1", Language.Find("de")!));
        Assert.Equal("[10%, 20%]", ValueFormatter.Format(new[] { 0.1, 0.2 }, "percent | interval", Language.Default));
        Assert.Equal("3 November", ValueFormatter.Format(new DateOnly(2025, 11, 3), "date d MMMM", Language.Default));
    }

    [Theory]
    [InlineData(0.5, "perecent 1", "`perecent 1` is not a format for a number", "did you mean `percent 1`?")]
    [InlineData(0.5, "percent x", "`percent` cannot take `x`", "it takes at most a number of decimals, such as `percent 1`")]
    [InlineData(0.5, "money euros", "`money` cannot take `euros`", "it takes a three-letter code, such as `money EUR`")]
    [InlineData(0.5, "ordinal", "`ordinal` wants a whole number, but got the number 0.5", null)]
    [InlineData("kg", "money EUR", "`money` wants a number, but got the text \"kg\"", null)]
    [InlineData(5, "words | money EUR", "`money` wants a number, but got the text \"five\" from `words`", null)]
    [InlineData(5, "number 1 | perecent", "`perecent` is not a format", "did you mean `percent`?")]
    [InlineData(5, "number 1 |", "the chain `number 1 |` has an empty link", "write a format on both sides of each `|`")]
    [InlineData(5, "upper x", "`upper` wants a text, but got the whole number 5", null)]
    [InlineData(1.5, "p-value", "`p-value` wants a p-value, between 0 and 1, but got the number 1.5", null)]
    [InlineData(0.5, "p-value bear", "`p-value` cannot take `bear`", "it takes `bare` and a number of decimals, as in `p-value`, `p-value 2`, `p-value bare` or `p-value bare 2`")]
    [InlineData(0.5, "power-of-ten", "`power-of-ten` cannot take ``", "it takes an exponent and a number of decimals, such as `power-of-ten -5 2`")]
    public void Links_that_do_not_fit_are_named(object value, string format, string message, string? suggestion)
    {
        var problem = Assert.Throws<ValueFormatException>(() => ValueFormatter.Format(value, format, Language.Default));
        Assert.Equal((message, suggestion), (problem.Message, problem.Suggestion));
    }

    [Fact]
    public void A_sequence_that_is_not_joined_is_told() =>
        Assert.Equal("`percent` gives 2 texts, which cannot stand in a sentence", Assert.Throws<ValueFormatException>(() => ValueFormatter.Format(new[] { 0.1, 0.2 }, "percent", Language.Default)).Message);

    [Fact]
    public void Digits_and_the_missing_sign_are_the_languages_rules()
    {
        var language = Language.Default.With(new NumberRules { Digits = 2, Missing = "n/a" });
        Assert.Equal(("1.2", "n/a", "n/a"), (ValueFormatter.Format(1.234, null, language), ValueFormatter.Format(null, null, language), ValueFormatter.Format(null, "0.0", language)));
    }

    /// <summary>Numbers whose binary fraction lies on the other side of the border than the number that was written.</summary>
    public static TheoryData<double, string, string> Borders => new()
    {
        { 24.25, "N1", "24.3" }, { 24.25, "0.0", "24.3" }, { 24.25, "F1", "24.3" }, { 24.25, "#,0.0", "24.3" }, { 24.25, "number 1", "24.3" },
        { 2.675, "0.00", "2.68" }, { 2.675, "N2", "2.68" }, { 1.005, "F2", "1.01" }, { 1.005, "money EUR", "€1.01" }, { -1.005, "0.00", "−1.01" },
        { 0.625, "P0", "63%" }, { 0.625, "0%", "63%" }, { 0.625, "percent", "63%" }, { 0.145, "P0", "15%" }, { 0.285, "percent", "29%" },
        { 0.5, "0", "1" }, { 1.5, "0", "2" }, { 2.5, "0", "3" }, { 2.5, "N0", "3" }, { 2.5, "thousands", "3" }, { -2.5, "signed 0", "−3" },
        { 1.0005e-30, "E3", "1.001E−030" }, { 1.0005e40, "0.000E+0", "1.001E+40" }, { 9.9995e-20, "E3", "1.000E−019" },
        { -0.001, "0.00", "0.00" }, { -0.001, "N2", "0.00" }, { -0.0001, "P1", "0.0%" }, { -0.001, "money EUR", "€0.00" }, { -0.001, "signed 1", "0.0" }, { -1e-30, "F3", "0.000" },
    };

    [Theory]
    [MemberData(nameof(Borders))]
    public void One_rule_rounds_every_number(double value, string format, string text) => Assert.Equal(text, ValueFormatter.Format(value, format, Language.Default));

    [Fact]
    public void A_number_that_is_shown_twice_reads_the_same()
    {
        // Every number of three decimals that ends in 5, in all formats of two decimals.
        for (var i = 0; i < 20_000; i++)
        {
            var value = ((10 * i) + 5) / 1000.0;
            var written = $"{(i + 1) / 100}.{(i + 1) % 100:00}";
            foreach (var format in (string[])["0.00", "F2", "#,0.00", "number 2"]) Assert.Equal(written, ValueFormatter.Format(value, format, Language.Default));
            Assert.Equal(written, ValueFormatter.Format((decimal)value, "N2", Language.Default));
        }
        Assert.Equal(("2.68", "12.35"), (ValueFormatter.Format(2.675f, "0.00", Language.Default), ValueFormatter.Format(12.345, null, Language.Default)));
        Assert.Equal("1.235\u00A0×\u00A010²⁰", ValueFormatter.Format(1.2345e20, null, Language.Default));
    }
}
