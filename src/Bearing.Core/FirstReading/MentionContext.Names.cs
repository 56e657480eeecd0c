using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>Names of the book that are words of the language, levels or plans as well.</summary>
internal sealed partial class MentionContext
{
    /// <summary>"Target" is the plan that is called the stretch target, where the budget is not called so.</summary>
    private void TellPlansApart() =>
        _mentions = [
            .. _mentions.Select(m =>
                m.Kind is MentionKind.Scenario or MentionKind.OnPlan
                && Enum.TryParse<ScenarioKind>(m.Value, true, out var kind)
                && _mentions.Find(o => o is { Kind: MentionKind.Scenario, Partial: true, Length: 1 } && o.End == m.End) is { } own
                && book.Latest(kind) is { } usual
                && Words.Tokens(usual.Name).TrueForAll(t => t.Stem != tokens[own.Start].Stem)
                    ? m with
                    {
                        Value = own.Value,
                    }
                    : m
            ),
        ];

    private void TellNamesApart()
    {
        Dearer(TypedAsCode, m =>
            m.Dimension is null
            && m.Kind is not MentionKind.Figure
            && m.Length == 1
            && tokens[m.Start].Text.Length > 1
            && tokens[m.Start].Text.All(char.IsUpper)
            && Any(o => o.Kind == MentionKind.Member && Covers(o, m) && o.Value == tokens[m.Start].Text)
        );
        // "IT costs" are not "it costs": typed as a name, a small word is one that the book has or lacks.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Filler, Length: 1 }
            && tokens[m.Start].Text.Length is 2 or 3
            && tokens[m.Start].Text.All(char.IsUpper)
            && tokens.Any(t => t.Text.Any(char.IsLower))
            && Any(o => o.Kind == MentionKind.Figure && o.Start == m.End)
        );
        // "Show me the margin" is not split by shows, where these are what exhibitions are called.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Level or MentionKind.Class, Start: 0, Singular: true, Length: 1 }
            && !IsKindOfRows(m)
            && Any(o => o is { Kind: MentionKind.Filler, Start: 0 })
        );
        var levels = _mentions.Where(m => m.Kind == MentionKind.Level).ToList();
        // "Which line carries most" asks for lines, where these are what the book is split by, and lists no entries.
        Dearer(SeldomAlone, m =>
            m is { Kind: MentionKind.Intent or MentionKind.Records or MentionKind.Order, Dimension: null }
            && levels.Exists(o => Covers(o, m) && IsOwnLevel(o))
        );
        // "Lines where revenue fell" are these, and not what was shown.
        Dearer(SeldomAlone, m =>
            m is { Kind: MentionKind.Edit or MentionKind.Clear or MentionKind.Row, Length: > 1 }
            && levels.Exists(o => Holds(m, o) && IsOwnLevel(o))
        );
        Dearer(SeldomAlone, m => m.Kind == MentionKind.Filler && levels.Exists(o => Covers(o, m) && IsKindOfRows(o)));
        // "By group", where a dimension is called so and the accounts have groups as well: the dimension.
        Dearer(SeldomAlone, m =>
            m.Kind == MentionKind.Level
            && !IsOwnName(m)
            && levels.Exists(o => o != m && Covers(o, m) && (IsOwnName(o) || (m.Dimension is null && IsOwnLevel(o))))
        );
        // "The largest client" is one of the clients, and not what the account of that name holds.
        Dearer(MentionFinder.TakesApart, m =>
            m is { Kind: MentionKind.Figure, Partial: false, Length: 1 }
            && Words.Tokens(m.Title).Count == 1
            && levels.Exists(l => Covers(l, m) && IsOwnName(l))
            && !Any(o => o.Start == m.End && o is { Kind: MentionKind.Figure, Value: "m:" + Book.AllCosts })
            && (
                !m.Title.Equals(tokens[m.Start].Text, StringComparison.OrdinalIgnoreCase)
                || Any(o =>
                    o.End == m.Start && o.Kind is MentionKind.Rank or MentionKind.Which or MentionKind.By or MentionKind.Number
                )
                || Any(o => o.Start == m.End && o.Kind == MentionKind.Across)
            )
        );
        // "By animal" splits by them, though what is counted is called animals too; "per animal" divides.
        Dearer(MentionFinder.TakesApart, m =>
            m is { Kind: MentionKind.Figure, Length: 1 }
            && levels.Exists(l => Covers(l, m) && IsOwnName(l))
            && Any(o => o.End == m.Start && o is { Kind: MentionKind.By, Value: "by" } or { Kind: MentionKind.Which })
        );
        // "Depot" is no depot rent where the book has depots.
        Dearer(MentionFinder.TakesApart, m =>
            m is { Kind: MentionKind.Figure, Partial: true } && levels.Exists(l => Covers(l, m))
        );
        // "Pharmacy sales per visit" speaks of pharmacy sales: what begins within a whole name and goes on behind it takes it
        // apart, and so do the sales within it.
        var names = _mentions
            .Where(m => m is { Kind: MentionKind.Figure or MentionKind.Member, Partial: false, Length: > 1, Corrected: false })
            .ToList();
        Dearer(MentionFinder.TakesApart, m =>
            names.Exists(n => m.Start > n.Start && m.Start < n.End && (m.End > n.End || (m.IsUsualName && m.End == n.End)))
        );
        // "Between material sales and service fees" is no split by material.
        Dearer(MentionFinder.TakesApart, m =>
            m is { Kind: MentionKind.Level, Length: 1 } && names.Exists(n => n.Kind == MentionKind.Figure && n.Start == m.Start)
        );
        // "The trade channel" is no department that is called so as well.
        Dearer(SeldomAlone, m =>
            m is { Kind: MentionKind.Member, Partial: false }
            && Any(o =>
                o is { Kind: MentionKind.Member, Partial: false }
                && Covers(o, m)
                && o.Dimension != m.Dimension
                && levels.Exists(l => l.Dimension == o.Dimension && (l.Start == o.End || l.End == o.Start))
            )
            && !levels.Exists(l => l.Dimension == m.Dimension && (l.Start == m.End || l.End == m.Start))
        );
        // A code that is a word of its own is one only where nothing is named so.
        Dearer(SeldomAlone, m =>
            m is { Kind: MentionKind.Figure, Partial: false, Length: 1 }
            && IsByCode(m)
            && Any(o => o is { Kind: MentionKind.Figure or MentionKind.Member, Partial: false } && Covers(o, m) && !IsByCode(o))
        );
        TellNamesOfPlans(levels);
        // "In h1" is the half before it is the house of that code: at H1, and house H1, are.
        Dearer(SeldomAlone, m =>
            m is { Kind: MentionKind.Member or MentionKind.Figure, Length: 1 }
            && IsByCode(m)
            && Any(o => o.Kind is MentionKind.Part or MentionKind.Period && Covers(o, m))
            && !(IsPlaced(m.Start) && tokens[m.Start].Text.Any(char.IsUpper))
            && !levels.Exists(l => l.Dimension == m.Dimension && l.End == m.Start)
        );
        // "The Quarter", typed as a name of several words, is no quarter.
        Dearer(SeldomAlone, m =>
            m.Kind is MentionKind.Period or MentionKind.Part or MentionKind.Month or MentionKind.Grain
            && names.Exists(n =>
                n.Kind == MentionKind.Member
                && Holds(n, m)
                && n.Length > m.Length - 1
                && tokens.Skip(n.Start).Take(n.Length).Select(t => t.Text).SequenceEqual(n.Title.Split(' '))
                && tokens[n.End - 1].Text.Any(char.IsUpper)
            )
        );
        // "Where will it land" is no land, "fees for land" are.
        var small = _mentions
            .Where(m =>
                m is { Kind: MentionKind.Member, Partial: false, Corrected: false, Length: 1 }
                && char.IsLower(tokens[m.Start].Text[0])
                && Any(o => o.Kind == MentionKind.Filler && Covers(o, m))
            )
            .ToList();
        Dearer(SeldomAlone, m =>
            small.Exists(s =>
                Covers(s, m)
                && (m.Kind == MentionKind.Filler ? IsPlaced(m.Start) : m.Kind == MentionKind.Member && !IsPlaced(m.Start))
            )
        );
        // "How fast is freight growing" speaks of no department Growing; "in growing" does, and so does "picking and growing".
        Dearer(SeldomAlone, m =>
            m is { Kind: MentionKind.Member or MentionKind.Figure, Partial: false, Corrected: false, Length: 1, Start: > 0 }
            && char.IsLower(tokens[m.Start].Text[0])
            && !IsPlaced(m.Start)
            && Any(o => IsOfSentence(o) && Covers(o, m))
            && !levels.Exists(l => l.Dimension == m.Dimension && (l.Start == m.End || l.End == m.Start))
            && !Any(o => o.Kind == MentionKind.And && (o.End == m.Start || o.Start == m.End))
            && Any(o => o.Kind == MentionKind.Figure && (o.End <= m.Start || o.Start >= m.End))
        );
        // "Off by 5k" is no off-trade: a word of the language that is the beginning of a name too.
        Dearer(MentionFinder.TakesApart, m =>
            m is { Kind: MentionKind.Member or MentionKind.Figure, Partial: true }
            && char.IsLower(tokens[m.Start].Text[0])
            && !IsPlaced(m.Start)
            && Any(o =>
                (
                    IsOfSentence(o)
                    || o.Kind
                        is MentionKind.By
                            or MentionKind.Exclude
                            or MentionKind.Share
                            or MentionKind.Projection
                            or MentionKind.Check
                            or MentionKind.Period
                    || (o.Kind == MentionKind.Margin && m.Kind == MentionKind.Member)
                ) && Covers(o, m)
                || (o is { Kind: MentionKind.By, Value: "percent" } && Holds(o, m))
            )
        );
        // "The paid date" is that field, and no date of what was paid.
        Dearer(SeldomAlone, m =>
            m.Kind is MentionKind.Check or MentionKind.Field
            && _mentions.Exists(f =>
                f is { Kind: MentionKind.Field, Length: > 1, Corrected: false } && f.Length > m.Length && Holds(f, m)
            )
        );
        // "The autumn forecast" is no forecast of the autumn, where a forecast is called so.
        Dearer(MentionFinder.TakesApart, m =>
            m.Kind == MentionKind.Part
            && Any(n =>
                n is { Kind: MentionKind.Scenario or MentionKind.Member or MentionKind.Figure, Partial: false, Corrected: false }
                && n.Start >= m.Start
                && n.Start < m.End
                && n.End > m.End
            )
        );
        Dearer(NamedLikeLevel, m =>
            m.Kind is MentionKind.Level or MentionKind.Member
            && m.Kind == (IsPlaced(m.Start) ? MentionKind.Level : MentionKind.Member)
            && Any(o => o.Kind == MentionKind.Level && Covers(o, m))
            && Any(o => o.Kind == MentionKind.Member && Covers(o, m))
        );
    }

    /// <summary>Growing, monthly, biggest: words that say what is asked of a figure.</summary>
    private static bool IsOfSentence(Mention mention) =>
        mention.Kind
            is MentionKind.Gap
                or MentionKind.Growth
                or MentionKind.Shift
                or MentionKind.Grain
                or MentionKind.Compare
                or MentionKind.Comparator
                or MentionKind.Rank
                or MentionKind.Presence
                or MentionKind.Number
                or MentionKind.Combined;

    /// <summary>Where a name cannot stand, a word is none, and no part of one.</summary>
    private void LeaveOutWhereNoneStands()
    {
        var mixed = tokens.Any(t => char.IsLower(t.Text[0]));
        // "How many panels did we fit": what we do is no fit-out.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Figure, Partial: true } or { Kind: MentionKind.Member }
            && m is { Length: 1, Start: > 0 }
            && char.IsLower(tokens[m.Start].Text[0])
            && vocabulary.Doers.Contains(tokens[m.Start - 1].Stem)
        );
        // "Cost of the cafe" is no cost of trading: a name that is broken off behind its "of" is named by what stands before it.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Figure or MentionKind.Member, Partial: true, Length: > 1 }
            && vocabulary.Find(tokens[m.End - 1].Stem).Any(e => e is { Kind: MentionKind.Place, Value: "of" })
        );
        // "Spend by host" asks for what nothing is split by, and not for host fees; ranked by them it may be.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Figure or MentionKind.Member, Partial: true, Length: 1, Start: > 0 }
            && char.IsLower(tokens[m.Start].Text[0])
            && (vocabulary.IsCommon(tokens[m.Start].Stem) || vocabulary.Stems.Contains(tokens[m.Start].Stem))
            && Any(o => o is { Kind: MentionKind.By, Value: "by" } && o.End == m.Start)
            && !Any(o =>
                o.Kind is MentionKind.Rank or MentionKind.Order or MentionKind.Gap or MentionKind.Further or MentionKind.Row
            )
        );
        // "In % of group riders" is of all of them.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Level, Length: 1, Singular: true }
            && Any(o => o.Kind == MentionKind.Filler && Covers(o, m))
            && Any(o => o.Kind == MentionKind.Figure && o.Start == m.End)
            && Any(o =>
                o is { Kind: MentionKind.By, Value: "percent" or "ratio" } or { Kind: MentionKind.Share } && o.End == m.Start
            )
        );
        // "Income of the Harbour Studio" is no harbour dues by studio: a name that goes on with what it is, and is none of these.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Figure or MentionKind.Member, Partial: true, Length: 1, Start: > 0 }
            && mixed
            && char.IsUpper(tokens[m.Start].Text[0])
            && Any(l => l is { Kind: MentionKind.Level, Singular: true } && l.Start == m.End && l.Dimension != m.Dimension)
            && !Any(o => Holds(o, m) && o.Length > 1)
        );
    }

    /// <summary>"Manual journals", of a library that has journals too: who prepared a thing, and what it comes from, is told of
    /// entries.</summary>
    private bool IsOfEntries(Mention mention) =>
        mention.Kind == MentionKind.Intent
        && mention.Value.StartsWith("entries", StringComparison.Ordinal)
        && Any(o => o.Kind is MentionKind.Value or MentionKind.Field or MentionKind.SameField);

    /// <summary>"Against budget" is the plan though a class is called Budget as well; "budget class" is the class.</summary>
    private void TellNamesOfPlans(List<Mention> levels)
    {
        foreach (
            var member in _mentions
                .Where(m =>
                    m is { Kind: MentionKind.Member, Partial: false }
                    && Any(o => o.Kind is MentionKind.Scenario or MentionKind.OnPlan && Covers(o, m))
                )
                .ToList()
        )
        {
            if (levels.Exists(l => l.Dimension == member.Dimension && (l.Start == member.End || l.End == member.Start)))
                _mentions.RemoveAll(m => m.Kind is MentionKind.Scenario or MentionKind.OnPlan && Covers(m, member));
            else if (
                Any(o => o.Kind is MentionKind.Comparator && (o.End == member.Start || o.Start == member.End))
                || Any(o => o.Kind is MentionKind.Gap && o.End == member.Start)
            )
                _mentions.Remove(member);
            // "Budgeted sales of budget rooms": the plan was said already.
            else if (
                char.IsLower(tokens[member.Start].Text[0])
                && !Any(o =>
                    o.Kind == MentionKind.Scenario
                    && !Covers(o, member)
                    && Any(s => s.Kind == MentionKind.Scenario && s.Value == o.Value && Covers(s, member))
                )
            )
                Dearer(MentionFinder.TakesApart, m => m == member);
        }
    }

    /// <summary>"Groups over budget", "group with the highest", where a dimension is called so; "group revenue" is that of
    /// all.</summary>
    private bool IsKindOfRows(Mention level) =>
        level is { Kind: MentionKind.Level, Length: 1 }
        && IsOwnName(level)
        && vocabulary.Find(tokens[level.Start].Stem).Any(e => e is { Kind: MentionKind.Filler, Value: "filler" })
        && (
            tokens[level.Start].Text.Length > tokens[level.Start].Stem.Length
            || !Any(o => o.Start == level.End && o.Kind is MentionKind.Figure or MentionKind.Result)
        );

    private bool IsOwnName(Mention level) =>
        level.Dimension is { } of
        && book.TryDimension(of, out var dimension)
        && dimension.Name.Equals(level.Value, StringComparison.OrdinalIgnoreCase);

    /// <summary>A level that the book itself calls so, and no word of the language for one.</summary>
    private static bool IsOwnLevel(Mention level) => level is { Kind: MentionKind.Level, Dimension: not null, Partial: false };

    private bool IsByCode(Mention mention) =>
        Words.Phrase(mention.Value.Split(':')[^1]) == tokens[mention.Start].Stem
        && Words.Phrase(mention.Title) != tokens[mention.Start].Stem;

    /// <summary>"In Shops".</summary>
    private bool IsPlaced(int start) =>
        start > 0 && vocabulary.Find(tokens[start - 1].Stem).Any(e => e is { Kind: MentionKind.Place, Value: "place" or "from" });

    /// <summary>A level, or a number of them.</summary>
    private bool IsPointedAt(Mention mention) =>
        mention.Kind is MentionKind.Level or MentionKind.Grain or MentionKind.Class
        || (
            mention is { Kind: MentionKind.Number, Length: 1 }
            && Any(l => l.Start == mention.End && l.Kind is MentionKind.Level or MentionKind.Grain)
        );
}
