using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>
/// What mentions mean beside their neighbours. Every step looks at all mentions of a text and takes some away, makes some dearer,
/// or adds one that only what stands beside it allows. Steps run in order; none of them decides which mention is taken.
/// </summary>
internal sealed partial class MentionContext(Vocabulary vocabulary, Book book, IReadOnlyList<Token> tokens, List<Mention> found)
{
    /// <summary>"By shop" and "bottom 3 shops" speak of shops, even where a department is called Shops; "in Shops" has no other
    /// meaning.</summary>
    private const double NamedLikeLevel = 0.15;

    /// <summary>WHO in capitals is the code before it is a word.</summary>
    private const double TypedAsCode = 0.2;

    /// <summary>A word that stands in a name, or means more beside another, is seldom meant alone.</summary>
    private const double SeldomAlone = 0.3;

    private List<Mention> _mentions = found;

    /// <summary>Said behind the text that is looked for.</summary>
    public const string TextBehind = "behind";

    /// <summary>Words that say what a variance or a sum comes from: down to, only, all.</summary>
    public const string Cause = "cause",
        AllCause = "all-cause",
        Sole = "sole",
        Whole = "whole";

    /// <summary>Whether a word for a share says that a part is most or all of the whole.</summary>
    public static bool SaysPart(string share) => share is Cause or AllCause or Sole or Whole;

    /// <summary>So far, right behind a year.</summary>
    private const string ToDateBehind = "date:behind";

    /// <summary>A word that only stands about, unless it says which costs are meant.</summary>
    private const string SaysWhich = "which";

    /// <summary>Words that leave something out only right before its name, or right behind it.</summary>
    private const string LeavesNamed = "exclude:named",
        NamedLeft = "excluded:named";

    /// <summary>On, right behind a period that something runs from.</summary>
    public const string FromThen = "behind";

    /// <summary>Gaps, and the numbers that they are gaps in.</summary>
    private const string GapLead = "gap:lead",
        GapOf = "gap:of";

    /// <summary>About, of entries.</summary>
    private const string About = "about";

    /// <summary>Balance, of entries.</summary>
    private const string BalanceOf = "unbalanced:of";

    /// <summary>Said before one of several: the cost of a performance.</summary>
    public const string OneOf = "one-of";

    /// <summary>"Did we pay".</summary>
    private const string PaidByUs = "settled:by-us";

    /// <summary>As words, before what is from something.</summary>
    private const string HowFar = "how far";

    /// <summary>"Our", "of our".</summary>
    private const string OfOurs = "ours";

    public List<Mention> Settle()
    {
        TakeToTheLetter();
        LeaveOutWhatIsWithin();
        LeaveOutWhereNoneStands();
        TellPlacesApart();
        TellFiguresApart();
        TellMoreThan();
        TellPartsApart();
        TellPlansApart();
        TellNamesApart();
        LeaveOutWhatCannotWin();
        return _mentions;
    }

    /// <summary>What can only lose against another that stands for the same is not weighed: each of them multiplies the readings.
    /// None of it decides between meanings.</summary>
    private void LeaveOutWhatCannotWin()
    {
        // "Harbour" begins the names of three; of those that only have it further back none would be chosen, nor asked for.
        _mentions.RemoveAll(m =>
            m is { Kind: MentionKind.Member, Partial: true }
            && Any(o =>
                o is { Kind: MentionKind.Member, Partial: true }
                && Covers(o, m)
                && o.Dimension == m.Dimension
                && o.Cost + FirstReader.Margin < m.Cost
            )
        );
        // "Rose in" is what rose is, with the small word in it.
        _mentions.RemoveAll(m =>
            Any(o =>
                o.Length > m.Length
                && (o.Kind, o.Value, o.Dimension) == (m.Kind, m.Value, m.Dimension)
                && o.Cost <= m.Cost
                && Holds(o, m)
                && Enumerable.Range(o.Start, o.Length).All(at => (m.Start <= at && at < m.End) || StandsAbout(at, o))
            )
        );
    }

    /// <summary>Only a small word, and no part of anything that reaches beyond.</summary>
    private bool StandsAbout(int at, Mention within) =>
        Any(m => m.Start == at && m.Length == 1)
        && _mentions.TrueForAll(m =>
            m.Start > at
            || m.End <= at
            || (
                m.Length > 1
                    ? Holds(within, m)
                    : m is { Kind: MentionKind.Filler, Value: "filler" } or { Kind: MentionKind.Place, Value: "place" }
            )
        );

    /// <summary>A word that means nothing, or only stands about.</summary>
    private bool IsIdle(int at) =>
        !Any(m => m.Start <= at && at < m.End && m.Kind is not (MentionKind.Filler or MentionKind.Place));

    private static bool IsTime(Mention mention) =>
        mention.Kind is MentionKind.Month or MentionKind.Part or MentionKind.Period or MentionKind.Year;

    private static bool Covers(Mention one, Mention other) => (one.Start, one.Length) == (other.Start, other.Length);

    private static bool Holds(Mention whole, Mention part) => whole.Start <= part.Start && whole.End >= part.End;

    private bool Any(Func<Mention, bool> which) => _mentions.Any(which);

    private void Dearer(double by, Func<Mention, bool> which) => Change(which, m => m with { Cost = m.Cost + by });

    private void Change(Func<Mention, bool> which, Func<Mention, Mention> to) =>
        _mentions = [.. _mentions.Select(m => which(m) ? to(m) : m)];
}
