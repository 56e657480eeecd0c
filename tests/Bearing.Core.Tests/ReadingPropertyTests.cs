using System.Text.Json;
using Bearing.Core.Books;
using Bearing.Core.FirstReading;
using Bearing.Core.Language;
using Bearing.Core.Questions;
using Bearing.Core.Reading;
using CsCheck;
using Xunit;

namespace Bearing.Core.Tests;

/// <summary>What holds for every question, whatever its words.</summary>
public sealed class ReadingPropertyTests
{
    private static readonly SmallBook Small = SmallBook.Filled();
    private static readonly Book Book = Small.Book();
    private static readonly Store.IFacts Facts = Small.Facts();
    private static readonly BookWords BookWords = new(Book);
    private static readonly FirstReader FirstReader = new(Book, BookWords, Vocabulary.English);

    private static readonly string[] Figures =
    [
        "fuel",
        "fares",
        "crew wages",
        "rent",
        "income",
        "direct costs",
        "the result",
        "margin percent",
    ];
    private static readonly string[] Times =
    [
        "in march",
        "in february 2026",
        "year to date",
        "in q1 2026",
        "from january to march",
    ];
    private static readonly string[] Bases = ["versus budget", "against plan", "vs last year", "compared with the forecast", ""];
    private static readonly string[] Places = ["at Corrie Bay", "for Aldermouth", "without Dunlin Pier", "in the North", ""];
    private static readonly string[] Splits = ["by yard", "by account", "by month", "by route", ""];
    private static readonly string[] Padding = ["please", "could you show me", "I would like to see", "thanks", "kindly", "the"];

    private static readonly Gen<string[]> Parts =
        from f in Pick.One(Figures)
        from t in Pick.One(Times)
        from b in Pick.One(Bases)
        from p in Pick.One(Places)
        from s in Pick.One(Splits)
        select new[] { f, t, b, p, s }.Where(x => x.Length > 0).ToArray();

    [Fact]
    public void Parts_mean_the_same_in_any_order_that_keeps_them_whole() =>
        Gen.Select(Parts, Gen.Int[0, 1000])
            .Sample(
                (parts, seed) =>
                {
                    var shuffled = parts.ToArray();
                    new Random(seed).Shuffle(shuffled);
                    var (said, turned) = (
                        FirstReader.Read(string.Join(' ', parts)),
                        FirstReader.Read(string.Join(' ', shuffled))
                    );
                    Assert.True(
                        said.Question == turned.Question,
                        $"{string.Join(' ', parts)}: {said.Reading?.Sentence}\n{string.Join(' ', shuffled)}: {turned.Reading?.Sentence} {turned.Because}"
                    );
                },
                iter: 200
            );

    [Fact]
    public void Politeness_before_and_after_changes_nothing() =>
        Gen.Select(Parts, Pick.One(Padding), Pick.One(Padding))
            .Sample(
                (parts, before, after) =>
                {
                    var text = string.Join(' ', parts);
                    Assert.Equal(FirstReader.Read(text).Question, FirstReader.Read($"{before} {text} {after}").Question);
                },
                iter: 150
            );

    /// <summary>Words by the part that they play, so that rare parts meet as often as common ones.</summary>
    private static readonly string[][] OfKinds =
    [
        .. Vocabulary
            .English.Phrases.Order(StringComparer.Ordinal)
            .GroupBy(p => Vocabulary.English.Find(p)[0].Kind)
            .Select(g => g.ToArray()),
        .. BookWords
            .Names.GroupBy(n => n.Target.Kind)
            .Select(g => g.Select(n => n.Text).Distinct().Order(StringComparer.Ordinal).ToArray()),
    ];

    /// <summary>A rule that makes more and more of the words would take the service down with it.</summary>
    [Fact, Trait("Search", "long")]
    public void Words_of_the_language_in_any_company_come_to_an_end() =>
        Gen.Int[0, OfKinds.Length - 1]
            .SelectMany(k => Gen.Int[0, OfKinds[k].Length - 1].Select(i => OfKinds[k][i]))
            .Array[2, 7]
            .Sample(
                words =>
                {
                    var read = FirstReader.Read(string.Join(' ', words));
                    Assert.False(
                        read.Because?.StartsWith("These words cannot be put together", StringComparison.Ordinal) == true,
                        string.Join(' ', words)
                    );
                },
                iter: 5000
            );

    /// <summary>Mixtures that once took the service down, found by the one above.</summary>
    [Theory]
    [InlineData("twenty Reach and then by Reach")]
    [InlineData("fuel per unicorn per unicorn per unicorn")]
    public void Words_that_mean_little_together_are_read_or_refused(string text) =>
        Assert.True(Enum.IsDefined(FirstReader.Read(text).Outcome));

    [Fact]
    public void Case_and_punctuation_change_nothing() =>
        Parts.Sample(
            parts =>
            {
                var text = string.Join(' ', parts);
                Assert.Equal(FirstReader.Read(text).Question, FirstReader.Read($"{text.ToUpperInvariant()}?!").Question);
            },
            iter: 100
        );

    [Fact]
    public void Every_unknown_word_is_named() =>
        Gen.Select(Parts, Pick.One("zanzel", "quorvix", "blemthor", "krasquig"))
            .Sample(
                (parts, word) =>
                {
                    var result = FirstReader.Read($"{string.Join(' ', parts)} {word}");
                    var named =
                        result.Outcome == ReadingOutcome.CannotAnswer
                            ? result.Because!
                            : string.Join(' ', result.Reading!.Unused);
                    Assert.Contains(word, named, StringComparison.OrdinalIgnoreCase);
                },
                iter: 100
            );

    /// <summary>Whatever words stand around them: a member, a split and a plan are in the question that is answered, or are said
    /// to be left out.</summary>
    [Fact, Trait("Search", "long")]
    public void What_was_recognised_shows_or_is_named() =>
        Gen.Int[0, OfKinds.Length - 1]
            .SelectMany(k => Gen.Int[0, OfKinds[k].Length - 1].Select(i => OfKinds[k][i]))
            .Array[1, 3]
            .Sample(
                words =>
                {
                    var text = $"{string.Join(' ', words)} fuel at Aldermouth by route versus budget";
                    var read = FirstReader.Read(text);
                    if (read is not { Outcome: ReadingOutcome.Understood, Question: { } question, Reading: { } reading })
                        return;
                    bool Named(string word) =>
                        reading.Unused.Contains(word) || reading.Assumed.Any(a => a.Contains(word, StringComparison.Ordinal));
                    Assert.True(
                        Named("Aldermouth")
                            || question.Filters.Any(f => f.Dimension == "entity")
                            || question.Breakdowns.Any(b => b.Dimension == "entity"),
                        text
                    );
                    Assert.True(
                        Named("route")
                            || question.Breakdowns.Any(b => b.Dimension == "route")
                            || question.Filters.Any(f => f.Dimension == "route"),
                        text
                    );
                    Assert.True(
                        Named("budget")
                            || question.Projection is not null
                            || question
                                .Bases.Add(question.Subject)
                                .Any(b => b.Scenario.StartsWith("budget", StringComparison.Ordinal)),
                        text
                    );
                },
                iter: 2000
            );

    /// <summary>A slip of the finger finds the name that was meant; it never turns one member into another that exists.</summary>
    [Fact]
    public void A_typing_error_in_a_name_never_leads_to_another_member() =>
        Gen.Select(Pick.One("Aldermouth", "Birkhaven", "Corrie", "Dunlin"), Gen.Int[1, 5], Gen.Int[0, 3])
            .Sample(
                (name, at, kind) =>
                {
                    var slip = kind switch
                    {
                        0 => name.Remove(at, 1),
                        1 => name.Insert(at, name[at].ToString()),
                        2 =>
                            $"{name[..at]}{name[at + 1 < name.Length ? at + 1 : at]}{name[at]}{name[Math.Min(name.Length, at + 2)..]}",
                        _ => $"{name[..at]}x{name[(at + 1)..]}",
                    };
                    var (meant, read) = (
                        FirstReader.Read($"fares at {name} in march"),
                        FirstReader.Read($"fares at {slip} in march")
                    );
                    if (read.Outcome == ReadingOutcome.Understood && read.Reading!.Unused.IsEmpty)
                        Assert.Equal(meant.Question, read.Question);
                },
                iter: 200
            );

    [Fact]
    public void Codes_and_names_of_every_member_lead_to_that_member()
    {
        foreach (var member in Book.MembersOf(Book.Entities.Id))
        foreach (var word in new[] { member.Code, member.Name, member.Name.ToLowerInvariant(), $"“{member.Name}”" })
        {
            var result = FirstReader.Read($"fares at {word} in march");
            Assert.True(
                result.Question?.Filters.Any(f => f.Members.SequenceEqual([member.Code])) == true,
                $"{word}: {result.Outcome} {result.Because} {result.Reading?.Sentence}"
            );
        }
    }

    [Fact]
    public void Every_follow_up_that_is_offered_is_understood() =>
        Parts.Sample(
            parts =>
            {
                // A ratio has no parts by account: that is refused and offers nothing.
                if (parts[0] == "margin percent" && parts.Contains("by account"))
                    return;
                if (FirstReader.Read(string.Join(' ', parts)).Question is not { } question)
                    return;
                var answer = SmallBook.Now(
                    new Answering.Answerer(Book, Facts).Answer(question.ToKinds(), CancellationToken.None)
                );
                foreach (var next in answer.Next)
                {
                    var result = FirstReader.Read(next, new Previous(FormOne.FromKinds(answer.Question), answer.Table!.Grid));
                    Assert.True(
                        result.Outcome == ReadingOutcome.Understood && result.Reading!.Unused.IsEmpty,
                        $"{next} after {string.Join(' ', parts)}: {result.Outcome} {result.Because}"
                    );
                }
            },
            iter: 25
        );

    [Fact]
    public void Completion_never_throws_and_keeps_what_was_typed() =>
        Gen.Select(Parts, Gen.Int[0, 40], Gen.String[0, 3])
            .Sample(
                (parts, cut, noise) =>
                {
                    var text = string.Join(' ', parts) + noise;
                    text = text[..Math.Min(cut, text.Length)];
                    var completions = new Completer(Book, BookWords, Vocabulary.English).Complete(text);
                    Assert.InRange(completions.From, 0, text.Length);
                    Assert.All(completions.Items, i => Assert.NotEmpty(i.Insert));
                    Assert.Equal(completions.Items.Count, completions.Items.Distinct().Count());
                },
                iter: 200
            );

    [Fact]
    public void No_word_stands_twice_in_one_entry_of_the_language()
    {
        using var stream = typeof(Vocabulary).Assembly.GetManifestResourceStream("language.en.language.json")!;
        var entries = JsonDocument
            .Parse(stream)
            .RootElement.GetProperty("entries")
            .EnumerateArray()
            .SelectMany(e =>
                e.GetProperty("words").EnumerateArray().Select(w => $"{e.GetProperty("kind")} {e.GetProperty("value")}: {w}")
            );
        Assert.Empty(entries.GroupBy(e => e).Where(g => g.Count() > 1).Select(g => g.Key));
    }
}
