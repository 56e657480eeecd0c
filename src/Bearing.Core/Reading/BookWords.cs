using System.Collections.Frozen;
using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Language;

namespace Bearing.Core.Reading;

/// <summary>Something in a book that has a name.</summary>
/// <param name="Target">What the name stands for.</param>
/// <param name="Stems">Its name as stems.</param>
public sealed record BookName(BookTarget Target, string Text, string[] Stems)
{
    /// <summary>Whether one of its words stands for another that says the same.</summary>
    public bool IsSynonym { get; init; }

    /// <summary>Whether that other word stands in the name of another figure itself, which may be meant just as well.</summary>
    public bool IsContested { get; init; }

    /// <summary>Whether it is the usual name of a line that the book calls otherwise, or has only in parts.</summary>
    public bool IsUsualName { get; init; }

    /// <summary>In lower case, for completion.</summary>
    public string Lower { get; } = Text.ToLowerInvariant();

    /// <summary>False for bare numbers, which complete nothing.</summary>
    public bool HasLetter { get; } = Text.Any(char.IsLetter);
}

/// <param name="Kind">Figure, Member, Level or Scenario.</param>
/// <param name="Value">Figure: <c>a:6110</c> or <c>m:gross-profit</c>. Member: member code. Level: level name. Scenario: side
/// text.</param>
/// <param name="Dimension">Dimension code for members and levels.</param>
public sealed record BookTarget(MentionKind Kind, string Value, string? Dimension, string Title);

/// <summary>The words of one edition of a book, indexed for whole and partial names.</summary>
public sealed class BookWords
{
    private readonly FrozenDictionary<string, BookName[]> _whole;
    private readonly FrozenDictionary<string, BookName[]> _byStem;
    private readonly NearStems _near;
    private readonly FrozenSet<string> _synonyms;
    private readonly FrozenSet<string> _ofValues;
    private readonly FrozenDictionary<string, ImmutableArray<string>> _tables;

    /// <summary>A word that ends more names than this says nothing about them.</summary>
    private const int MostOfClass = 200;

    /// <param name="vocabulary">The language whose synonyms stand for words of the names; English when left out.</param>
    public BookWords(Book book, Vocabulary? vocabulary = null)
    {
        var language = vocabulary ?? Vocabulary.English;
        Names = [.. All(book, language)];
        var own = Names.Select(n => string.Join(' ', n.Stems)).ToHashSet();
        Names = [.. Names, .. new UsualLines(book, language, Names).Names().Where(n => own.Add(string.Join(' ', n.Stems)))];
        // "Job mix", of job types.
        Names =
        [
            .. Names,
            .. Names
                .Where(n => n.Target.Kind == MentionKind.Level)
                .Select(n => (Name: n, Kind: language.KindOf(n.Text)))
                .Where(n => n.Kind is not null && own.Add(n.Kind))
                .Select(n =>
                    n.Name with
                    {
                        Stems = [n.Kind!],
                        IsSynonym = true,
                        Target = n.Name.Target with { Title = n.Name.Text },
                    }
                )
                .ToList(),
        ];
        // "Regional sales", by region.
        Names =
        [
            .. Names,
            .. Names
                .Where(n => n is { Target.Kind: MentionKind.Level, Stems.Length: 1 })
                .SelectMany(n => language.LevelEndings.Select(e => (Name: n, Adjective: n.Stems[0] + e)))
                .Where(n => own.Add(n.Adjective))
                .Select(n =>
                    n.Name with
                    {
                        Stems = [n.Adjective],
                        IsSynonym = true,
                        Target = n.Name.Target with { Title = n.Name.Text },
                    }
                )
                .ToList(),
        ];
        // "The whole trust", of Alverwick Trust: all of it, and not the Trust Office.
        if (
            book.Roots(book.Entities.Id).Take(2).ToList() is [var top]
            && Words.Tokens(top.Name) is [_, .., var noun]
            && language.Wholes.Contains(noun.Stem)
            && own.Add(noun.Stem)
        )
            Names =
            [
                .. Names,
                new BookName(new BookTarget(MentionKind.Member, top.Code, book.Entities.Code, top.Name), noun.Text, [noun.Stem])
                {
                    IsSynonym = true,
                },
            ];
        // Where accounts are called wages, wages are these before they are another name of all people.
        var inFigures = Names.Where(n => n.Target.Kind is MentionKind.Figure).SelectMany(n => n.Stems).ToHashSet();
        bool IsPostedCost(BookName name) =>
            name.Target is { Kind: MentionKind.Figure, Value: ['a', ..] }
            && book.TryMember(book.Accounts.Id, name.Target.Value[2..], out var account)
            && account.Account?.Type == AccountType.Cost
            && !book.HasChildren(account);
        // "Wages", of salaries and of crew wages: which of the two is meant is asked.
        var inCosts = Names.Where(IsPostedCost).SelectMany(n => n.Stems).ToHashSet();
        var synonyms = Names
            .Where(n => n.Target.Kind is MentionKind.Figure or MentionKind.Level or MentionKind.Records && !n.IsUsualName)
            .SelectMany(n => Synonyms(n, language, n.Text == n.Target.Title ? [] : inFigures, IsPostedCost(n) ? inCosts : []))
            .Where(n => !own.Contains(string.Join(' ', n.Stems)))
            .ToList();
        // "Available rooms" are rooms available, where they are counted.
        synonyms.AddRange(
            Names
                .Where(n =>
                    n.Target is { Kind: MentionKind.Figure, Value: ['a', ..] }
                    && n.Stems.Length == 2
                    && book.TryMember(book.Accounts.Id, n.Target.Value[2..], out var counted)
                    && counted.Account?.Type == AccountType.Statistic
                )
                .Select(n => n with { Stems = [n.Stems[1], n.Stems[0]], IsSynonym = true })
                .Where(n => own.Add(string.Join(' ', n.Stems)))
                .ToList()
        );
        _synonyms = synonyms.Concat(Names.Where(n => n.IsUsualName)).SelectMany(n => n.Stems).ToFrozenSet();
        _whole = Names
            .Concat(synonyms)
            .Where(n => n.Stems.Length > 0)
            .GroupBy(n => string.Join(' ', n.Stems))
            .ToFrozenDictionary(g => g.Key, g => g.ToArray());
        // Values of fields and usual names of lines are meant as a whole only: a part of one says nothing.
        _byStem = Names
            .Where(n => n.Target.Kind != MentionKind.Value && !n.IsUsualName)
            .SelectMany(n => n.Stems.Distinct().Select(s => (Stem: s, Name: n)))
            .GroupBy(p => p.Stem)
            .ToFrozenDictionary(g => g.Key, g => g.Select(p => p.Name).ToArray());
        _near = new NearStems(_byStem.Keys);
        OwnCosts = language
            .Phrases.Where(p =>
                language.Synonyms.ContainsKey(p)
                && language.Find(p).Any(e => e is { Kind: MentionKind.Figure, Value: "m:" + Book.AllCosts })
            )
            .SelectMany(Whole)
            .Where(n => n.Target.Kind == MentionKind.Figure && n.Target.Value.StartsWith("a:", StringComparison.Ordinal))
            .Select(n => n.Target.Value)
            .Distinct()
            .ToList()
            is [var costs]
            ? costs
            : null;
        Levels = [.. Names.Where(n => n.Target.Kind == MentionKind.Level)];
        _ofValues = Names.Where(n => n.Target.Kind == MentionKind.Value).SelectMany(n => n.Stems).ToFrozenSet();
        _tables = Called(book, language);
    }

    /// <summary>Codes of the tables of records that go by a word of the language such as receivables, or by their own
    /// code.</summary>
    internal ImmutableArray<string> TablesCalled(string said) => _tables.GetValueOrDefault(said, []);

    private static FrozenDictionary<string, ImmutableArray<string>> Called(Book book, Vocabulary language)
    {
        var tables = book.Tables.Where(t => t.Code != Table.Ledger).ToList();
        var called = tables.ToDictionary(t => t.Code, t => ImmutableArray.Create(t.Code));
        if (tables.Count == 0)
            return called.ToFrozenDictionary();
        // Words for both sides, such as invoices, name no table.
        var telling = language
            .Phrases.Select(p => (Phrase: p, Meanings: language.Find(p).Where(e => e.Kind == MentionKind.Records).ToList()))
            .Where(p => p.Meanings is [{ Value: var only }] && !only.Contains('#', StringComparison.Ordinal))
            .ToLookup(p => p.Meanings[0].Value, p => p.Phrase);
        bool IsCalled(Table table, string role) =>
            telling[role]
                .Append(role)
                .Any(w =>
                    Words.Phrase(table.Code).Contains(w, StringComparison.Ordinal)
                    || Words.Phrase(table.Name).Contains(w, StringComparison.Ordinal)
                );
        foreach (var role in (string[])[Receivables, Payables])
            called[role] = [.. tables.Where(t => IsCalled(t, role)).Select(t => t.Code)];
        // What is owed by us is not what customers owe; of what is owed by nobody's name it is the rest.
        if (called[Payables].IsEmpty)
            called[Payables] =
            [
                .. tables
                    .Where(t =>
                        RecordWords.FieldOf(t.Fields, language, "due") is not null && !called[Receivables].Contains(t.Code)
                    )
                    .Select(t => t.Code),
            ];
        return called.ToFrozenDictionary();
    }

    private const string Payables = "payables",
        Receivables = "receivables";

    public IReadOnlyList<BookName> Names { get; }

    /// <summary>Names of levels and of dimensions.</summary>
    public IReadOnlyList<BookName> Levels { get; }

    /// <summary>What the book itself calls costs or spending, as a:code; null where it calls nothing so, and all costs are
    /// meant.</summary>
    public string? OwnCosts { get; }

    /// <summary>Whether two words stand beside each other in a name.</summary>
    internal bool GoesOn(string word, string next) => Partial([word, next]).Any() || Whole($"{word} {next}").Count > 0;

    public IEnumerable<string> Stems => _byStem.Keys;

    /// <summary>Stems that a few edits may turn into the given one, at their least distance.</summary>
    public IEnumerable<(string Stem, int Distance)> Near(string stem, int tolerance) => _near.Find(stem, tolerance);

    public bool Knows(string stem) => _byStem.ContainsKey(stem) || _whole.ContainsKey(stem) || _synonyms.Contains(stem);

    /// <summary>Whether a value of some field of records or lines holds the word: it is no misspelling of another.</summary>
    public bool IsOfValue(string stem) => _ofValues.Contains(stem);

    public IReadOnlyList<BookName> Whole(string phrase) => _whole.GetValueOrDefault(phrase) ?? [];

    /// <summary>Names that hold the stems side by side in this order, and more; or that begin and end with them, as legal &amp;
    /// audit fees does with legal fees.</summary>
    public IEnumerable<BookName> Partial(IReadOnlyList<string> stems)
    {
        // Every one of the words stands in such a name: the rarest of them leaves the fewest to look at.
        BookName[]? fewest = null;
        foreach (var stem in stems)
        {
            if (!_byStem.TryGetValue(stem, out var having))
                return [];
            if (fewest is null || having.Length < fewest.Length)
                fewest = having;
        }
        return fewest!.Where(n =>
            n.Stems.Length > stems.Count
            && (Contains(n.Stems, stems) || (stems.Count == 2 && n.Stems[0] == stems[0] && n.Stems[^1] == stems[1]))
        );
    }

    /// <summary>The name with one of its words said otherwise: operating costs for operating expenses.</summary>
    private static IEnumerable<BookName> Synonyms(
        BookName name,
        Vocabulary vocabulary,
        HashSet<string> taken,
        HashSet<string> contested
    ) =>
        name.Stems.SelectMany(
            (stem, i) =>
                vocabulary
                    .Synonyms.GetValueOrDefault(stem, [])
                    .Where(o => !taken.Contains(o))
                    .Select(other =>
                        name with
                        {
                            Stems = [.. name.Stems.Select((s, at) => at == i ? other : s)],
                            IsSynonym = true,
                            IsContested = name.Stems.Length == 1 && contested.Contains(other),
                        }
                    )
        );

    private static bool Contains(string[] name, IReadOnlyList<string> stems)
    {
        for (var at = 0; at + stems.Count <= name.Length; at++)
        {
            var same = true;
            for (var i = 0; i < stems.Count && same; i++)
                same = name[at + i] == stems[i];
            if (same)
                return true;
        }
        return false;
    }

    private static IEnumerable<BookName> All(Book book, Vocabulary language)
    {
        foreach (var member in book.Members)
        {
            var dimension = book.Dimension(member.DimensionId);
            var target =
                dimension.Role == DimensionRole.Account
                    ? new BookTarget(MentionKind.Figure, "a:" + member.Code, dimension.Code, member.Name)
                    : new BookTarget(MentionKind.Member, member.Code, dimension.Code, member.Name);
            foreach (var name in Named(target, [member.Name, member.Code, .. member.OtherNames]))
                yield return name;
        }
        foreach (var line in book.Definition.Statement)
        foreach (
            var name in Named(
                new BookTarget(MentionKind.Figure, "m:" + line.Code, null, line.Name),
                [line.Name, line.Code, .. line.OtherNames]
            )
        )
            yield return name;
        foreach (var measure in book.Definition.Measures)
        foreach (
            var name in Named(
                new BookTarget(MentionKind.Figure, "m:" + measure.Code, null, measure.Name),
                [
                    .. new[] { measure.Name, measure.Code }
                        .Concat(measure.OtherNames)
                        .SelectMany(n => measure.Percent ? [n, n + " %"] : new[] { n }),
                ]
            )
        )
            yield return name;
        if (!book.Currencies.IsEmpty)
            foreach (
                var name in Named(
                    new BookTarget(MentionKind.Figure, "m:" + Book.TranslationDifference, null, Book.TranslationDifferenceName),
                    language.TranslationDifference.Prepend(Book.TranslationDifferenceName)
                )
            )
                yield return name with
                {
                    IsUsualName = true,
                };
        foreach (var scenario in book.Definition.Scenarios.Where(s => s.Kind != ScenarioKind.Actual))
        {
            foreach (
                var name in Named(
                    new BookTarget(MentionKind.Scenario, scenario.Code, null, scenario.Name),
                    [scenario.Name, scenario.Code]
                )
            )
                yield return name;
            foreach (var version in scenario.Versions)
            foreach (
                var name in Named(
                    new BookTarget(
                        MentionKind.Scenario,
                        $"{scenario.Code}:{version.Code}",
                        null,
                        $"{scenario.Name} {version.Code}"
                    ),
                    [$"{scenario.Name} {version.Code}"]
                )
            )
                yield return name;
        }
        foreach (var taught in book.Words)
            if (Teaching.Of(book, taught.Target) is { } target)
                foreach (var name in Named(target, [taught.Text]))
                    yield return name;
        foreach (var table in book.Tables)
        {
            if (table.Code != Table.Ledger)
                foreach (
                    var name in Named(new BookTarget(MentionKind.Records, table.Code, null, table.Name), [table.Name, table.Code])
                )
                    yield return name;
            foreach (var field in table.Fields)
            {
                if (field.Type != FieldType.Member)
                    foreach (var name in Named(new BookTarget(MentionKind.Field, field.Code, null, field.Name), [field.Name]))
                        yield return name;
                foreach (var value in field.Values)
                foreach (
                    var name in Named(
                        new BookTarget(MentionKind.Value, $"{table.Code}/{field.Code}={value}", null, value),
                        [value, .. language.States.GetValueOrDefault(Words.Phrase(value), [])]
                    )
                )
                    yield return name;
            }
        }
        foreach (var dimension in book.Definition.Dimensions.Where(d => d.Role != DimensionRole.Account))
        foreach (var name in Classes(book, dimension))
            yield return name;
        foreach (var dimension in book.Definition.Dimensions)
        {
            var levels = dimension.Levels;
            for (var i = 0; i < levels.Length; i++)
            {
                var own = i == levels.Length - 1 ? dimension.OtherNames.Insert(0, dimension.Name) : [];
                foreach (
                    var name in Named(
                        new BookTarget(MentionKind.Level, levels[i], dimension.Code, levels[i]),
                        [levels[i], .. dimension.Name == levels[i] ? (string[])[] : [$"{dimension.Name} {levels[i]}"], .. own]
                    )
                )
                    yield return name;
            }
        }
    }

    /// <summary>Brackness Harbour and Pellow Harbour are harbours: a word in which the names of several members end is what they
    /// are, unless another dimension is called so.</summary>
    private static IEnumerable<BookName> Classes(Book book, Dimension dimension) =>
        book.MembersOf(dimension.Id)
            .Where(m => !book.HasChildren(m))
            .Select(m => (m.Code, Last: Words.Tokens(m.Name) is { Count: > 1 } tokens ? tokens[^1] : null))
            .Where(m => m.Last is { Stem.Length: > 3 } last && last.Stem.All(char.IsLetter))
            .GroupBy(m => m.Last!.Stem)
            .Where(g =>
                g.Count() is > 1 and <= MostOfClass
                && !book.Definition.Dimensions.Any(d =>
                    d.Levels.Concat(d.OtherNames).Append(d.Name).Any(n => Words.Phrase(n) == g.Key)
                )
            )
            .Select(g => new BookName(
                new BookTarget(MentionKind.Class, string.Join('\n', g.Select(m => m.Code)), dimension.Code, g.First().Last!.Text),
                g.First().Last!.Text,
                [g.Key]
            ));

    private static IEnumerable<BookName> Named(BookTarget target, IEnumerable<string> texts)
    {
        var seen = new HashSet<string>();
        foreach (var text in texts)
        {
            var stems = Words.Tokens(text).Select(t => t.Stem).ToArray();
            if (stems.Length > 0 && seen.Add(string.Join(' ', stems)))
                yield return new BookName(target, text, stems);
        }
    }
}
