using Bearing.Contracts;
using Bearing.Core.Answering;
using Bearing.Core.Books;
using Bearing.Core.Commentary;
using Bearing.Core.Loading;
using Bearing.Core.Questions;
using Bearing.Core.Variance;
using Bearing.Data.State;
using Bearing.Service.Asking;

namespace Bearing.Service.Hosting;

/// <summary>Which texts can stand in parts that take one of a few, for the OpenAPI document. They are the names that the core has
/// for them, so that the document cannot fall behind.</summary>
internal static class ApiValues
{
    private static readonly Dictionary<(Type, string), IReadOnlyList<string>> Known = new()
    {
        [(typeof(BookSummary), nameof(BookSummary.Provenance))] = Names<Provenance>(),
        [(typeof(BookDto), nameof(BookDto.Provenance))] = Names<Provenance>(),
        [(typeof(NewBook), nameof(NewBook.Provenance))] = Names<Provenance>(),
        [(typeof(AnswerSet), nameof(AnswerSet.Provenance))] = Names<Provenance>(),
        [(typeof(DimensionDto), nameof(DimensionDto.Role))] = Names<DimensionRole>(),
        [(typeof(NewDimension), nameof(NewDimension.Role))] = Names<DimensionRole>(),
        [(typeof(ScenarioDto), nameof(ScenarioDto.Kind))] = Names<ScenarioKind>(),
        [(typeof(LoadRequest), nameof(LoadRequest.ScenarioKind))] = Planned,
        [(typeof(MappingScenario), nameof(MappingScenario.Kind))] = Planned,
        [(typeof(MemberDetail), nameof(MemberDetail.AccountType))] = Names<AccountType>(),
        [(typeof(AddedMember), nameof(AddedMember.Type))] = Names<AccountType>(),
        [(typeof(TypeTotalDto), nameof(TypeTotalDto.Type))] = Names<AccountType>(),
        [(typeof(FieldDto), nameof(FieldDto.Type))] = Names<FieldType>(),
        [(typeof(RecordColumnDto), nameof(RecordColumnDto.Type))] = Names<FieldType>(),
        [(typeof(RateDto), nameof(RateDto.Kind))] = Names<RateKind>(),
        [(typeof(RateDto), nameof(RateDto.Quotation))] = Names<Quotation>(),
        [(typeof(LineRateDto), nameof(LineRateDto.Quotation))] = Names<Quotation>(),
        [(typeof(MappingFile), nameof(MappingFile.Quotation))] = Names<Quotation>(),
        [(typeof(MappingFile), nameof(MappingFile.Kind))] = Names<TableKind>(),
        [(typeof(MappingFile), nameof(MappingFile.Sign))] = Names<SignConvention>(),
        [(typeof(MappingFile), nameof(MappingFile.Decimals))] = Decimals,
        [(typeof(LoadRequest), nameof(LoadRequest.Kind))] = Names<TableKind>(),
        [(typeof(LoadRequest), nameof(LoadRequest.Sign))] = Names<SignConvention>(),
        [(typeof(LoadRequest), nameof(LoadRequest.Mode))] = Names<LoadMode>(),
        [(typeof(LoadRequest), nameof(LoadRequest.Decimals))] = Decimals,
        [(typeof(ReconcileRequest), nameof(ReconcileRequest.Sign))] = Names<SignConvention>(),
        [(typeof(LoadPreview), nameof(LoadPreview.Kind))] = Names<TableKind>(),
        [(typeof(LoadPreview), nameof(LoadPreview.Sign))] = Names<SignConvention>(),
        [(typeof(ReceiptDto), nameof(ReceiptDto.Kind))] = Names<TableKind>(),
        [(typeof(LoadDto), nameof(LoadDto.Kind))] = Names<TableKind>(),
        [(typeof(JobDto), nameof(JobDto.State))] = Names<JobState>(),
        [(typeof(SourceDto), nameof(SourceDto.Kind))] = Sources,
        [(typeof(NewSource), nameof(NewSource.Kind))] = Sources,
        [(typeof(ProblemDto), nameof(ProblemDto.Type))] = [.. ProblemKinds.All.Select(k => k.Address), "about:blank"],
        [(typeof(AnswerSet), nameof(AnswerSet.Outcome))] =
        [
            "answered",
            "asks-back",
            "cannot-answer",
            "help",
            "goes-back",
            "starts-afresh",
        ],
        [(typeof(AnswerDto), nameof(AnswerDto.Form))] = ["table", "entries", "records"],
        [(typeof(ComposeRequest), nameof(ComposeRequest.Kind))] = ["values", "comparison", "why", "bridge"],
        [(typeof(ColumnDto), nameof(ColumnDto.Kind))] = Names<ColumnKind>(),
        [(typeof(RowDto), nameof(RowDto.Kind))] = Names<RowKind>(),
        [(typeof(ChartDto), nameof(ChartDto.Kind))] = Names<ChartKind>(),
        [(typeof(ChartPointDto), nameof(ChartPointDto.Step))] = Names<BridgeStepKind>(),
        [(typeof(SentenceDto), nameof(SentenceDto.Role))] = Names<SentenceRole>(),
        [(typeof(TieOutDto), nameof(TieOutDto.State))] = Names<TieOutState>(),
        [(typeof(ProjectedDto), nameof(ProjectedDto.By))] = Names<Projection>(),
        [(typeof(OfRowsDto), nameof(OfRowsDto.Statistic))] = Names<RowStatistic>(),
        [(typeof(RecordAskDto), nameof(RecordAskDto.Statistic))] = Names<RowStatistic>(),
        [(typeof(ClaimDto), nameof(ClaimDto.Direction))] = Names<Direction>(),
        [(typeof(ClaimDto), nameof(ClaimDto.Of))] = Names<Quantifier>(),
        [(typeof(PartDto), nameof(PartDto.Claim))] = Names<PartClaim>(),
        [(typeof(ConditionDto), nameof(ConditionDto.On))] = Names<ConditionOn>(),
        [(typeof(ConditionDto), nameof(ConditionDto.Direction))] = Names<Direction>(),
        [(typeof(RankingDto), nameof(RankingDto.By))] = Names<RankBy>(),
        [(typeof(DisplayDto), nameof(DisplayDto.View))] = Names<View>(),
        [(typeof(RecordTestDto), nameof(RecordTestDto.Kind))] = Names<RecordTestKind>(),
    };

    private static IReadOnlyList<string> Planned => [WireText.Name(ScenarioKind.Budget), WireText.Name(ScenarioKind.Forecast)];
    private static IReadOnlyList<string> Decimals => ["point", "comma"];
    private static IReadOnlyList<string> Sources => ["odata", "postgres", "sqlite"];

    /// <summary>Of a parameter of an operation; null where any text can stand.</summary>
    public static IReadOnlyList<string>? OfParameter(string operation, string name) =>
        (operation, name) == ("ListLines", "order") ? LineEndpoints.Orders : null;

    /// <summary>Null where any text can stand.</summary>
    public static IReadOnlyList<string>? Of(Type type, string property) => Known.GetValueOrDefault((type, property));

    private static IReadOnlyList<string> Names<T>()
        where T : struct, Enum => [.. Enum.GetValues<T>().Select(v => WireText.Name(v))];
}
