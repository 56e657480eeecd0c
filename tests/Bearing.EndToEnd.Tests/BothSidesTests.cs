using System.Globalization;
using System.Text;
using Bearing.Contracts;
using Xunit;

namespace Bearing.EndToEnd.Tests;

/// <summary>A book that holds what is owed to others and what others owe, read from plain exports without a mapping.</summary>
public sealed class BothSidesTests(DemoService demo) : IAsyncLifetime
{
    private const string Book = "both-sides";

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private static decimal Of(string? text) => decimal.Parse(text ?? "0", CultureInfo.InvariantCulture);

    public async ValueTask InitializeAsync()
    {
        if ((await demo.Client.Books(Cancel)).Any(b => b.Id == Book))
            return;
        await demo.Client.Create(
            new NewBook(
                Book,
                "Both sides",
                "EUR",
                1,
                "test",
                "result",
                null,
                [
                    new("account", "Account", "account", ["Group", "Account"], null),
                    new("entity", "Entity", "entity", ["Entity"], null),
                ],
                [new("result", "Result", ["INC", "COS"], null)],
                null,
                null,
                null
            ),
            Cancel
        );
        // A chart of accounts as it is exported: revenue and expense.
        await Load(
            "accounts.csv",
            "Code,Name,Parent,Type\nINC,Income,,revenue\nSALES,Sales,INC,revenue\nCOS,Costs,,expense\nRENT,Rent,COS,expense\n"
        );
        await Load("entities.csv", "Entity,Name\nYARD,The Yard\n");
        await Load(
            "ledger.csv",
            """
            Document,Date,Entity,Account,Credit,Debit,Prepared by,Approved by
            D1,2026-06-10,YARD,SALES,1000,,P. Ashby,T. Orme
            D1,2026-06-10,YARD,RENT,,1000,P. Ashby,T. Orme
            D2,2026-06-11,YARD,SALES,400,,T. Orme,
            D2,2026-06-11,YARD,RENT,,400,T. Orme,

            """
        );
        await Load(
            "supplier-invoices.csv",
            "Invoice no,Supplier,Invoice date,Due date,Amount,Paid,Paid date\nP1,Grain & Co,2026-05-01,2026-05-31,900.00,0,\nP2,Grain & Co,2026-05-20,2026-07-19,300.00,100.00,\nP3,Wick Oil,2026-05-02,2026-06-01,50.00,50.00,2026-06-01\n",
            "payables"
        );
        await Load(
            "customer-invoices.csv",
            "Invoice no,Customer,Invoice date,Due date,Amount,Paid,Paid date\nC1,Ostler Inns,2026-05-01,2026-05-31,500.00,0,\nC2,Ostler Inns,2026-06-01,2026-07-01,200.00,0,\nC3,Tarn Schools,2026-05-05,2026-06-04,80.00,80.00,2026-06-20\nC4,Tarn Schools,2026-05-06,2026-06-05,120.00,20.00,\n",
            "receivables"
        );
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private async Task Load(string name, string csv, string? table = null)
    {
        var upload = await demo.Client.Upload(Book, name, new MemoryStream(Encoding.UTF8.GetBytes(csv)), Cancel);
        var job = await demo.Client.Load(
            Book,
            new LoadRequest(upload.Id, table is null ? null : "records", Table: table),
            Guid.NewGuid().ToString(),
            Cancel
        );
        await foreach (var state in demo.Client.Follow(Book, job.Id, Cancel))
            job = state;
        Assert.True(
            job.State == "done",
            $"{name}: {job.Problem?.Detail} {string.Join(' ', job.Problem?.Refused?.Select(r => r.Because) ?? [])}"
        );
    }

    private async Task<AnswerSet> Ask(string text, QuestionDto? previous = null) =>
        await demo.Client.Ask(Book, new AskRequest(text, previous), Cancel);

    private async Task<string> Rows(string text, QuestionDto? previous = null)
    {
        var set = await Ask(text, previous);
        Assert.True(set.Outcome == "answered", $"{text}: {set.Because} {string.Join(" / ", set.Choices.Select(c => c.Means))}");
        return string.Join(
            '|',
            set.Answers[0]
                .Records!.Rows.Select(r =>
                    $"{r.Values[0]} {string.Join(' ', r.Values.Skip(1).Take(((RecordsDto)set.Answers[0].Question.Kind).Ask.By is null ? 0 : 1).Select(v => Of(v).ToString("0.##", CultureInfo.InvariantCulture)))}".Trim()
                )
        );
    }

    [Theory]
    [InlineData("who do we owe the most", "Grain & Co 1100|")]
    [InlineData("who owes us the most", "Ostler Inns 700|Tarn Schools 100")]
    [InlineData("open receivables by customer", "Ostler Inns 700|Tarn Schools 100")]
    [InlineData("customers with overdue invoices", "Ostler Inns 500|Tarn Schools 100")]
    [InlineData("customers with overdue > 250", "Ostler Inns 500")]
    [InlineData("open receivables over 250 by customer", "Ostler Inns 500")]
    [InlineData("overdue invoices by supplier", "Grain & Co 900")]
    [InlineData("customer invoices paid late", "C3")]
    [InlineData("supplier invoices paid on time", "P3")]
    [InlineData("customer invoices that were not paid late", "")]
    [InlineData("receivables not yet paid, oldest first", "C1|C4|C2")]
    [InlineData("journals approved by nobody", "D2")]
    [InlineData("journals approved by T. Orme", "D1")]
    [InlineData("journals prepared by T. Orme", "D2")]
    public async Task What_is_open_and_who_it_is_follows_from_the_plain_columns(string text, string rows) =>
        Assert.Equal(rows.TrimEnd('|'), await Rows(text));

    [Theory]
    [InlineData("open invoices")]
    [InlineData("invoices paid late")]
    public async Task Invoices_that_may_be_either_are_asked_back(string text)
    {
        var set = await Ask(text);
        Assert.Equal("asks-back", set.Outcome);
        Assert.Equal(["Payables", "Receivables"], set.Choices.Select(c => c.Means.Split(' ')[0]));
    }

    [Fact]
    public async Task Whoever_both_prepared_and_approved_is_asked_back_by_name() =>
        Assert.Equal(
            ["approved by is T. Orme", "prepared by is T. Orme"],
            (await Ask("journals by T. Orme"))
                .Choices.Select(c => c.Means.Split(": ")[1].TrimEnd('.'))
                .Order(StringComparer.Ordinal)
        );

    [Fact]
    public async Task A_follow_up_stays_with_the_records_that_were_shown()
    {
        var open = (await Ask("open receivables by customer")).Answers[0].Question;
        Assert.Equal("Ostler Inns 500|Tarn Schools 100", await Rows("only overdue", open));
        Assert.Equal("C1|C2|C4", await Rows("list their invoices", open));
        Assert.Equal("Ostler Inns 700", await Rows("who is the largest", open));
    }
}
