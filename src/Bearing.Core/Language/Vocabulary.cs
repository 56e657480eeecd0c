using System.Collections.Frozen;
using System.Text.Json;

namespace Bearing.Core.Language;

/// <summary>The words of one natural language: phrases (as stems) with the parts that they can play.</summary>
public sealed class Vocabulary
{
    private readonly FrozenSet<string> _common;
    private readonly FrozenDictionary<string, (MentionKind Kind, string Value)[]> _phrases;

    private readonly NearStems _near;

    private Vocabulary(LanguageFile file, IEnumerable<string> common)
    {
        _common = common.ToFrozenSet();
        _phrases = file
            .Entries.SelectMany(e =>
                e.Words.SelectMany(Spelt)
                    .Select(w => (Phrase: Words.Phrase(w), Entry: (Enum.Parse<MentionKind>(e.Kind, true), e.Value)))
            )
            .GroupBy(p => p.Phrase)
            .ToFrozenDictionary(g => g.Key, g => g.Select(p => p.Entry).Distinct().ToArray());
        Abbreviations = file
            .Abbreviations.DistinctBy(a => Words.Stem(a.Key))
            .ToFrozenDictionary(a => Words.Stem(a.Key), a => a.Value.Split(' ').Select(Words.Stem).ToArray());
        Inclusive = (file.Inclusive ?? []).Select(Words.Phrase).ToFrozenSet();
        Positions = (file.Positions ?? []).Select(Words.Phrase).ToFrozenSet();
        SplitVerbs =
        [
            .. (file.SplitVerbs ?? []).Select(v =>
                (v[0], v[1], v.Count > 2 ? Enum.Parse<MentionKind>(v[2], true) : MentionKind.Exclude)
            ),
        ];
        OrdinalEndings = [.. file.OrdinalEndings ?? []];
        DefinedAs = (file.DefinedAs ?? []).ToFrozenSet();
        PoliteFirst = (file.PoliteFirst ?? []).Select(Words.Phrase).ToFrozenSet();
        Requests = (file.Requests ?? []).SelectMany(Spelt).Select(Words.Phrase).ToFrozenSet();
        PoliteLast = (file.PoliteLast ?? []).Select(Words.Phrase).ToFrozenSet();
        Claims = file.Claims.Select(Words.Phrase).ToFrozenSet();
        Asking = file.Asking.ToFrozenSet();
        Overview = file.Overview;
        Help = file.Help;
        Synonyms = file
            .Synonyms.Select(g => g.Select(Words.Phrase).ToList())
            .SelectMany(g => g.Select(w => (Word: w, Others: g.Where(o => o != w))))
            .GroupBy(p => p.Word)
            .ToFrozenDictionary(p => p.Key, p => p.SelectMany(o => o.Others).Distinct().ToArray());
        _kindNouns = (file.KindNouns ?? []).Select(Words.Phrase).ToFrozenSet();
        MeasureNouns = (file.MeasureNouns ?? []).Select(Words.Phrase).ToFrozenSet();
        LevelEndings = [.. file.LevelEndings ?? []];
        TranslationDifference = [.. file.TranslationDifference ?? []];
        IntraGroup = [.. (file.IntraGroup ?? []).Select(w => Words.Tokens(w).Select(t => t.Stem).ToArray())];
        Spending = (file.Spending ?? []).Select(Words.Phrase).ToFrozenSet();
        Anybody = (file.Anybody ?? []).Select(Words.Phrase).ToFrozenSet();
        Doers = (file.Doers ?? []).Select(Words.Phrase).ToFrozenSet();
        States = (file.States ?? new Dictionary<string, IReadOnlyList<string>>()).ToFrozenDictionary(
            s => Words.Phrase(s.Key),
            s => s.Value.ToArray()
        );
        Pointers = (file.Pointers ?? []).Select(Words.Phrase).ToFrozenSet();
        Wholes = (file.Wholes ?? []).Select(Words.Phrase).ToFrozenSet();
        GapNouns = (file.GapNouns ?? []).Select(Words.Phrase).ToFrozenSet();
        PluralNouns = (file.PluralNouns ?? []).ToFrozenSet();
        PerWords = (file.PerWords ?? new Dictionary<string, string>()).ToFrozenDictionary(p => p.Key, p => Words.Stem(p.Value));
        Verbs = (file.Verbs ?? [])
            .SelectMany(g => g.Select(f => (Form: f, Forms: g.ToArray())))
            .ToFrozenDictionary(p => p.Form, p => p.Forms);
        Spellings = [.. file.Spellings.SelectMany(s => ((string, string)[])[(s[0], s[1]), (s[1], s[0])])];
        Openers = file.Openers.Select(Words.Phrase).ToFrozenSet();
        Fields = file.Fields.ToFrozenDictionary(f => f.Key, f => f.Value.Select(Words.Phrase).ToArray());
        Confused = (file.Confused ?? []).Select(p => p[0] < p[1] ? (p[0], p[1]) : (p[1], p[0])).ToFrozenSet();
        Scales = (file.Scales ?? new Dictionary<string, decimal>()).ToFrozenDictionary();
        Fractions = (file.Fractions ?? new Dictionary<string, decimal>()).ToFrozenDictionary();
        UsualLines =
        [
            .. (file.UsualLines ?? []).Select(l => new UsualLine(
                [.. l.Words],
                l.Before is null ? null : [.. l.Before],
                l.Literal
            )),
        ];
        Below = (file.BelowProfit ?? new Dictionary<string, BelowWords>()).ToFrozenDictionary(
            b => b.Key,
            b => new BelowLine([.. b.Value.Names.Select(Words.Phrase)], [.. b.Value.Whole.Select(Words.Phrase)])
        );
        Stems = _phrases.Keys.SelectMany(p => p.Split(' ')).ToFrozenSet();
        _near = new NearStems(Stems);
    }

    public static Vocabulary English { get; } = Load("en");

    /// <summary>Short form → the stems that it stands for.</summary>
    public FrozenDictionary<string, string[]> Abbreviations { get; }

    /// <summary>Words between the name of what is defined and the figures that it is made of.</summary>
    public FrozenSet<string> DefinedAs { get; }

    /// <summary>What asks for something: words in front of it that name nothing of a book only lead to it.</summary>
    internal FrozenSet<string> Requests { get; }

    /// <summary>Phrases of up to four words that are only polite where a text begins with them, and where it ends in
    /// them.</summary>
    internal FrozenSet<string> PoliteFirst { get; }

    /// <summary>And those behind it.</summary>
    internal FrozenSet<string> PoliteLast { get; }

    /// <summary>Phrases of up to three words that, first in a sentence, ask for a yes or a no.</summary>
    public FrozenSet<string> Claims { get; }

    internal bool ClaimsAt(IReadOnlyList<Token> tokens, int from) =>
        Enumerable
            .Range(1, Math.Min(3, tokens.Count - from))
            .Any(n => Claims.Contains(string.Join(' ', tokens.Skip(from).Take(n).Select(t => t.Stem))));

    /// <summary>Phrases that, behind a connector, begin another demand.</summary>
    public FrozenSet<string> Openers { get; }

    /// <summary>Stem → stems that say the same in the name of a figure or a level.</summary>
    public FrozenDictionary<string, string[]> Synonyms { get; }

    /// <summary>Words for a gap on one side: the shortfall.</summary>
    internal FrozenSet<string> GapNouns { get; }

    /// <summary>Verbs that are another thing in the plural: revenue may contract, contracts are papers.</summary>
    internal FrozenSet<string> PluralNouns { get; }

    /// <summary>What something is measured in: hours of a crusher are no crusher.</summary>
    internal FrozenSet<string> MeasureNouns { get; }

    private readonly FrozenSet<string> _kindNouns;

    /// <summary>The first word of a level's name of two words whose second only says that it is a kind: the job of a job
    /// type.</summary>
    internal string? KindOf(string level) =>
        Words.Tokens(level) is [var kind, var noun] && _kindNouns.Contains(noun.Stem) ? kind.Stem : null;

    /// <summary>Words that mean something of their own behind "per" only: a head is one of the headcount.</summary>
    internal FrozenDictionary<string, string> PerWords { get; }

    /// <summary>Endings that are written in two ways: harbor and harbour, in both directions.</summary>
    public IReadOnlyList<(string Typed, string Other)> Spellings { get; }

    /// <summary>Form of a verb → all of its forms: what was sold is what somebody sells.</summary>
    public FrozenDictionary<string, string[]> Verbs { get; }

    /// <summary>Verbs that leave something out or take it in again, and the word behind it that belongs to them: take fuel out,
    /// put it back.</summary>
    internal IReadOnlyList<(string Verb, string Behind, MentionKind Kind)> SplitVerbs { get; }

    /// <summary>Endings that make an adjective of the name of a level: regional.</summary>
    internal IReadOnlyList<string> LevelEndings { get; }

    /// <summary>What whoever is counted does with money that is income of the book: what a visitor spends.</summary>
    internal FrozenSet<string> Spending { get; }

    /// <summary>Further names of what translating balances at closing rates leaves over.</summary>
    internal IReadOnlyList<string> TranslationDifference { get; }

    /// <summary>Stems of phrases that names of accounts hold on which entities of a group post with each other.</summary>
    internal IReadOnlyList<string[]> IntraGroup { get; }

    /// <summary>Whoever is counted: more people visit.</summary>
    internal FrozenSet<string> Anybody { get; }

    /// <summary>Whoever does something: right behind them stands what is done, and no name.</summary>
    internal FrozenSet<string> Doers { get; }

    /// <summary>What else a state is called that a field of records has as a value: disputed is in dispute.</summary>
    internal FrozenDictionary<string, string[]> States { get; }

    /// <summary>What speaks of something said or shown before.</summary>
    internal FrozenSet<string> Pointers { get; }

    /// <summary>What companies are: the trust is all of the one that is called so.</summary>
    internal FrozenSet<string> Wholes { get; }

    /// <summary>Endings that make a place of a number: 14th.</summary>
    internal IReadOnlyList<string> OrdinalEndings { get; }

    /// <summary>Phrases of a limit that hold for what is just as much: at least, at most.</summary>
    public FrozenSet<string> Inclusive { get; }

    /// <summary>Words that say where something lies, and never that it moved there: over since May.</summary>
    public FrozenSet<string> Positions { get; }

    /// <summary>Words that begin a question but no further demand behind a connector, where they go on with the one before.</summary>
    public FrozenSet<string> Asking { get; }

    /// <summary>The demands of an overview, the first with a place for what it is of.</summary>
    public IReadOnlyDictionary<string, IReadOnlyList<string>> Overview { get; }

    /// <summary>What can be asked, in general words.</summary>
    public string Help { get; }

    /// <summary>Role that a field of records can play → phrases that its name then holds, the likeliest first.</summary>
    public FrozenDictionary<string, string[]> Fields { get; }

    /// <summary>Letters that people write for each other since they sound alike, in the order of the alphabet.</summary>
    internal FrozenSet<(char, char)> Confused { get; }

    /// <summary>Word behind a number → what it is multiplied by: thousand, lakh.</summary>
    internal FrozenDictionary<string, decimal> Scales { get; }

    /// <summary>Phrase of up to three words before such a word → the number that it is: half a.</summary>
    internal FrozenDictionary<string, decimal> Fractions { get; }

    /// <summary>Lines of the income statement that every finance team knows.</summary>
    internal IReadOnlyList<UsualLine> UsualLines { get; }

    /// <summary>What such a line can stand before → how accounts of that kind are called.</summary>
    internal FrozenDictionary<string, BelowLine> Below { get; }

    /// <summary>Every stem of every phrase.</summary>
    public FrozenSet<string> Stems { get; }

    /// <summary>Stems of phrases that a few edits may turn into the given one.</summary>
    public IEnumerable<(string Stem, int Distance)> Near(string stem, int tolerance) => _near.Find(stem, tolerance);

    /// <summary>Whether it is a word that everybody knows, whatever it means here: it is no misspelling of another.</summary>
    internal bool IsCommon(string stem) => _common.Contains(stem);

    public IEnumerable<string> Phrases => _phrases.Keys;

    public IReadOnlyList<(MentionKind Kind, string Value)> Find(string phrase) => _phrases.GetValueOrDefault(phrase) ?? [];

    /// <summary>Reads the words of a language from a file of the form of English/language.json.</summary>
    public static Vocabulary Read(Stream stream) =>
        new(
            JsonSerializer.Deserialize<LanguageFile>(stream, JsonSerializerOptions.Web)
                ?? throw new FormatException("The file of words is empty."),
            []
        );

    private static Vocabulary Load(string language)
    {
        using var stream = typeof(Vocabulary).Assembly.GetManifestResourceStream($"language.{language}.language.json")
            ?? throw new InvalidOperationException($"The words of language {language} are not in the assembly.");
        return new(JsonSerializer.Deserialize<LanguageFile>(stream, JsonSerializerOptions.Web)!, CommonWords(language));
    }

    /// <summary>"At [the|this|] pace" → at the pace, at this pace, at pace.</summary>
    /// <exception cref="FormatException">A bracket without its other half.</exception>
    private static IEnumerable<string> Spelt(string pattern)
    {
        var open = pattern.IndexOf('[', StringComparison.Ordinal);
        if (open < 0)
            return [pattern];
        var close = pattern.IndexOf(']', open);
        if (close < 0)
            throw new FormatException($"The words “{pattern}” have a bracket that is not closed.");
        return pattern[(open + 1)..close]
            .Split('|')
            .SelectMany(option => Spelt($"{pattern[..open]}{option}{pattern[(close + 1)..]}"));
    }

    /// <summary>One stem a line; a line that begins with # says where they come from.</summary>
    private static IEnumerable<string> CommonWords(string language)
    {
        using var stream = typeof(Vocabulary).Assembly.GetManifestResourceStream($"language.{language}.words.txt");
        if (stream is null)
            yield break;
        using var reader = new StreamReader(stream);
        while (reader.ReadLine() is { } line)
            if (!line.StartsWith('#'))
                yield return line;
    }

    private sealed record LanguageFile(
        string Language,
        IReadOnlyList<LanguageEntry> Entries,
        IReadOnlyDictionary<string, string> Abbreviations,
        IReadOnlyList<string> Claims,
        IReadOnlyList<string> Openers,
        IReadOnlyList<IReadOnlyList<string>> Synonyms,
        IReadOnlyList<IReadOnlyList<string>>? Verbs,
        IReadOnlyList<string>? Inclusive,
        IReadOnlyList<string>? Positions,
        IReadOnlyList<string>? DefinedAs,
        IReadOnlyList<string>? OrdinalEndings,
        IReadOnlyList<IReadOnlyList<string>>? SplitVerbs,
        IReadOnlyList<string>? PoliteFirst,
        IReadOnlyList<string>? PoliteLast,
        IReadOnlyList<string>? Requests,
        IReadOnlyList<IReadOnlyList<string>> Spellings,
        IReadOnlyList<string> Asking,
        IReadOnlyDictionary<string, IReadOnlyList<string>> Overview,
        string Help,
        IReadOnlyDictionary<string, IReadOnlyList<string>> Fields,
        IReadOnlyList<string>? Confused,
        IReadOnlyDictionary<string, decimal>? Scales,
        IReadOnlyDictionary<string, decimal>? Fractions,
        IReadOnlyList<LineWords>? UsualLines,
        IReadOnlyDictionary<string, BelowWords>? BelowProfit,
        IReadOnlyDictionary<string, string>? PerWords,
        IReadOnlyList<string>? GapNouns,
        IReadOnlyList<string>? PluralNouns,
        IReadOnlyList<string>? KindNouns,
        IReadOnlyList<string>? MeasureNouns,
        IReadOnlyList<string>? LevelEndings,
        IReadOnlyList<string>? Doers,
        IReadOnlyList<string>? Pointers,
        IReadOnlyDictionary<string, IReadOnlyList<string>>? States,
        IReadOnlyList<string>? Wholes,
        IReadOnlyList<string>? Anybody,
        IReadOnlyList<string>? Spending,
        IReadOnlyList<string>? TranslationDifference,
        IReadOnlyList<string>? IntraGroup
    );

    private sealed record LineWords(IReadOnlyList<string> Words, IReadOnlyList<string>? Before, bool Literal = false);

    private sealed record BelowWords(IReadOnlyList<string> Names, IReadOnlyList<string> Whole);

    private sealed record LanguageEntry(string Kind, string Value, IReadOnlyList<string> Words);
}
