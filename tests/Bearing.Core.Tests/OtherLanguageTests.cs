using System.Text;
using Bearing.Core.Books;
using Bearing.Core.FirstReading;
using Bearing.Core.Language;
using Bearing.Core.Reading;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>A handful of German words, and nothing else, make the same questions. The book keeps the names that it has.</summary>
public sealed class OtherLanguageTests
{
    private const string German = """
        {
          "language": "de", "abbreviations": { "ggü": "gegenüber" }, "fields": {}, "spellings": [], "synonyms": [], "claims": ["lag"], "openers": ["zeige", "warum"], "asking": ["was"], "overview": {}, "help": "",
          "entries": [
            { "kind": "intent", "value": "why", "words": ["warum", "was trieb"] },
            { "kind": "comparator", "value": "versus", "words": ["gegen", "gegenüber", "verglichen mit"] },
            { "kind": "scenario", "value": "budget", "words": ["plan", "budget"] },
            { "kind": "scenario", "value": "prior-year", "words": ["vorjahr"] },
            { "kind": "month", "value": "3", "words": ["märz"] },
            { "kind": "part", "value": "quarter:1", "words": ["erstes quartal"] },
            { "kind": "by", "value": "by", "words": ["nach"] },
            { "kind": "by", "value": "per", "words": ["je"] },
            { "kind": "and", "value": "and", "words": ["und", ","] },
            { "kind": "exclude", "value": "exclude", "words": ["ohne"] },
            { "kind": "rank", "value": "largest", "words": ["größte", "größten", "höchste"] },
            { "kind": "gap", "value": "over", "words": ["über"] },
            { "kind": "not", "value": "not", "words": ["nicht"] },
            { "kind": "edit", "value": "edit", "words": ["stattdessen"] },
            { "kind": "grain", "value": "month", "words": ["monat", "monatlich"] },
            { "kind": "number", "value": "3", "words": ["drei"] },
            { "kind": "place", "value": "place", "words": ["im", "in", "für"] },
            { "kind": "filler", "value": "filler", "words": ["die", "der", "das", "bitte"] }
          ]
        }
        """;

    private static readonly Book Book = new SmallBook()
        .Add(1, new(2025, 1), "FUEL", "N1", -1m)
        .Add(1, new(2026, 3), "FUEL", "N2", -1m)
        .Add(2, new(2026, 1), "FUEL", "N1", -1m)
        .Add(2, new(2026, 12), "FUEL", "N2", -1m)
        .Book();

    private static readonly Vocabulary Words = Vocabulary.Read(new MemoryStream(Encoding.UTF8.GetBytes(German)));

    private static readonly FirstReader FirstReader = new(Book, new BookWords(Book, Words), Words);

    [Theory]
    [InlineData("fuel gegen plan im März nach yard", "Variance of Fuel: Actual against Budget 26, March 2026, by yard.")]
    [InlineData("bitte fuel ggü Vorjahr, erstes Quartal", "Variance of Fuel: Actual against Prior year, Q1 2026.")]
    [InlineData("warum fuel über budget im märz", "What drives the variance of Fuel: Actual against Budget 26, March 2026.")]
    [InlineData("die drei größten yard nach fuel", "Fuel: Actual, Q1 2026, by yard, the 3 largest.")]
    [InlineData("fuel je trips im März ohne Aldermouth", "Fuel per trip: Actual, March 2026, without Aldermouth.")]
    [InlineData("fuel nicht über plan", "Variance of Fuel: Actual against Budget 26, Q1 2026.")]
    [InlineData("fuel monatlich", "Fuel: Actual, Q1 2026, by month.")]
    public void The_words_are_data_and_the_rules_are_the_same(string text, string sentence)
    {
        var read = FirstReader.Read(text);
        Assert.True(
            read.Outcome == ReadingOutcome.Understood,
            $"{read.Because} {string.Join(" / ", read.Choices.Select(c => c.Means))}"
        );
        Assert.Equal(sentence, read.Reading!.Sentence);
        Assert.Empty(read.Reading.Unused);
    }

    [Fact]
    public void English_is_not_known_then() =>
        Assert.Equal(ReadingOutcome.CannotAnswer, FirstReader.Read("fuel at wharf").Outcome);
}
