using System.Collections.Immutable;
using Bearing.Core.Books;
using Bearing.Core.Questions;

namespace Bearing.Core.Variance;

/// <summary>The columns of a question's table: for each span its subject, then each base with what sets it apart, and shares
/// where they were asked for; then the figures beside the first.</summary>
internal sealed class GridColumns(Book book, Question question, Figure figure, ComparisonPlan plan)
{
    private readonly ImmutableArray<Column>.Builder _columns = ImmutableArray.CreateBuilder<Column>();

    public ImmutableArray<Column> With(ImmutableArray<BesideFigure> beside)
    {
        for (var block = 0; block < plan.Blocks.Length; block++)
        {
            AddSubject(block, beside.IsEmpty ? book.NameOf(question.Scope.Subject) : figure.Name);
            for (var i = 0; i < question.Scope.Bases.Length; i++)
                AddBase(block, i);
        }
        for (var i = 0; i < beside.Length; i++)
            _columns.Add(
                new Column(
                    $"beside{(i > 0 ? i + 1 : "")}",
                    ColumnKind.Beside,
                    beside[i].Figure.Name,
                    question.Scope.Subject,
                    beside[i].Plan.Blocks[0].Span,
                    0,
                    i
                )
                {
                    Figure = beside[i].Figure,
                }
            );
        return _columns.ToImmutable();
    }

    private void AddSubject(int block, string title)
    {
        var subject = question.Scope.Subject;
        Add(block, ColumnKind.Subject, title, subject, 0);
        if (question.SharesOfSides)
            Add(block, ColumnKind.Share, "Share %", subject, 0);
        else if (question.Of.Shares is not null && question.Scope.Bases.Length == 0)
            Add(block, ColumnKind.Share, "Share of total %", subject, 0);
        if (question.SharesWithin is { } outer)
            Add(block, ColumnKind.Share, $"Share within {outer} %", null, 1);
    }

    private void AddBase(int block, int i)
    {
        var (bases, ofSides) = (question.Scope.Bases, question.SharesOfSides);
        Add(block, ColumnKind.Base, book.NameOf(bases[i], plan.Blocks[block].Span), plan.Blocks[block].Sides[i + 1].Side, i);
        if (ofSides)
            Add(block, ColumnKind.Share, "Share %", bases[i], i + 1);
        var variance =
            question.Growth ? "Change"
            : question.Of.Cumulative ? "Cumulative variance"
            : "Variance";
        Add(block, ColumnKind.Variance, variance, null, i);
        if (figure is not PairFigure { Rule: PairRule.Percent })
            Add(block, ColumnKind.Percent, question.Growth ? "Growth %" : "%", null, i);
        Add(block, ColumnKind.Mark, "F/U", null, i);
        // With two bases side by side the table would outgrow the page.
        var fits = bases.Length == 1 && question.Scope.Spans.Length <= 2;
        if (question.Of.Shares is not null)
            Add(block, ColumnKind.Share, "Share of variance %", null, ofSides ? i + 2 : i);
        else if (figure is SumFigure && question.Layout.Rows.Length > 0 && fits)
            Add(block, ColumnKind.Share, "Share", null, i);
    }

    private void Add(int block, ColumnKind kind, string title, Side? side, int index)
    {
        var span = plan.Blocks[block].Span;
        var prefix = plan.Blocks.Length > 1 ? $"{span}." : "";
        var id = $"{prefix}{kind.ToString().ToLowerInvariant()}{(index > 0 ? index + 1 : "")}";
        _columns.Add(new Column(id, kind, title, side, span, block, index));
    }
}
