using Bearing.Contracts;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Loading;
using Bearing.Data.Books;
using Bearing.Data.Formats;
using Bearing.Data.State;
using Bearing.Service.Hosting;

namespace Bearing.Service.Loading;

/// <summary>A load as it is to be made, with what a person wants to see of it before.</summary>
/// <param name="Heading">The heading row by which the file was read.</param>
/// <param name="FirstRows">Rows below it.</param>
/// <param name="File">The mapping in the form in which it can be kept.</param>
internal sealed record LoadPlan(
    LoadCommand Command,
    SourceFile Source,
    RawRow Heading,
    IReadOnlyList<RawRow> FirstRows,
    MappingFile File
);

/// <summary>Turns a request to load into a plan: by a mapping that was named, given or recognised, or else by what the file
/// itself shows.</summary>
internal sealed partial class LoadPlanner(OpenBook open, LoadRequest request)
{
    private const int SampleRows = 1_000;
    private readonly Book _book = open.Store.Read();

    /// <exception cref="ProblemException">422, naming the option that is wrong.</exception>
    /// <exception cref="LoadRefusedException">When the file cannot be read as a table.</exception>
    /// <param name="headings">The file of journal headings, where one came along.</param>
    /// <param name="job">Of the load, or null for a preview.</param>
    public LoadPlan Plan(UploadRow upload, UploadRow? headings, string? job)
    {
        var (source, heads, text) = Open(upload);
        if (heads.All(h => h.Count == 0))
            throw LoadRefusedException.File("The file is empty.", "Export it again with its heading row and its rows.");
        var saved = Saved(heads);
        var (mapping, heading, rows) = saved is not null ? ByMapping(saved, heads) : ByDetection(source.Sheets, heads);
        mapping = Completed(MappingForm.WithSelections(mapping, saved, open)) with { Text = text };
        var scenario = Scenario(saved);
        if (mapping.Kind == TableKind.Plan && (scenario is null || scenario.Code == Book.ActualCode))
            mapping = mapping with
            {
                Open = mapping.Open
                    ?? new Refusal(
                        0,
                        null,
                        null,
                        "The file holds plan amounts, but not for which scenario.",
                        "Say the scenario, for example budget-2027, and whether it is a budget or a forecast."
                    ),
            };
        var target = mapping.HasFigures ? Target(scenario, mapping.RateSet) : null;
        var command = new LoadCommand(
            job ?? "preview",
            upload.FileName,
            upload.Sha256,
            source.Sheets,
            mapping,
            target,
            Parse<LoadMode>(request.Mode, "mode")
        )
        {
            Targets = Targets(mapping, saved),
            Headings = headings is null ? null : SourceFile.Open(open.Incoming(headings.Sha256)).Sheets,
            Agreed = request.Agreed,
            RefusedFile = open.Refused(job ?? PreviewOf(upload.Id)),
            Added = [.. (request.Add ?? []).Select(Added)],
            Assumed = [.. Assumed(scenario, target)],
        };
        var file = MappingForm.ToFile(mapping, scenario, saved?.Scenarios);
        return new LoadPlan(command, source, heading, rows, saved?.Keep is null ? file : file with { Keep = saved.Keep });
    }

    /// <summary>The file, cut as the request says, or else as the mapping that is named says, or else as it seems to be
    /// itself.</summary>
    private (SourceFile Source, List<List<RawRow>> Heads, TextForm? Text) Open(UploadRow upload)
    {
        var named = request.Given ?? (request.Mapping is not null ? MappingForm.Read(open, request.Mapping) : null);
        var text = MappingForm.Text(request.Separator ?? named?.Separator, request.Encoding ?? named?.Encoding)
            ?? (named is null && request.Columns is null ? TextOfKept(upload) : null);
        var source = SourceFile.Open(open.Incoming(upload.Sha256), text);
        return (source, Heads(source), text);
    }

    /// <summary>Of a kept mapping that says how its text is cut, and whose headings stand in the file when it is cut
    /// so.</summary>
    private TextForm? TextOfKept(UploadRow upload)
    {
        foreach (
            var kept in open
                .Mappings.Names()
                .Select(n => MappingForm.Read(open, n))
                .Where(m => request.Kind is null || m.Kind == request.Kind)
        )
        {
            if (MappingForm.Text(kept.Separator, kept.Encoding) is not { } text)
                continue;
            try
            {
                if (Find(MappingForm.ToCore(kept), Heads(SourceFile.Open(open.Incoming(upload.Sha256), text))) is not null)
                    return text;
            }
            catch (LoadRefusedException)
            {
                // Cut like this it is no table, so it is not of this kind.
            }
        }
        return null;
    }

    private static List<List<RawRow>> Heads(SourceFile source) =>
        [.. source.Sheets.Select(s => SourceFile.Head(s, SampleRows + TableReader.HeadingReach))];

    /// <summary>Name under which a preview keeps the rows that it would refuse.</summary>
    public static string PreviewOf(string upload) => $"preview-{upload}";

    private Member Added(AddedMember added)
    {
        if (!_book.TryDimension(added.Dimension, out var dimension))
            throw new ProblemException(
                ProblemKinds.MemberUnusable,
                $"The book has no dimension “{added.Dimension}”.",
                $"Use one of {string.Join(", ", _book.Definition.Dimensions.Select(d => d.Code))}."
            );
        if (string.IsNullOrWhiteSpace(added.Code) || added.Code.StartsWith('~'))
            throw new ProblemException(
                ProblemKinds.MemberUnusable,
                "It has no usable code.",
                "Give it a code that does not begin with “~”."
            );
        Member? parent = null;
        if (added.Parent is not null && !_book.TryMember(dimension.Id, added.Parent, out parent))
            throw new ProblemException(
                ProblemKinds.MemberUnusable,
                $"The parent “{added.Parent}” is not in the book.",
                $"Name a {dimension.Name.ToLowerInvariant()} that the book has, or leave the parent out."
            );
        var traits =
            dimension.Role != DimensionRole.Account ? null
            : added.Type is not null ? AccountTraits.Default(Parse<AccountType>(added.Type, "type"))
            : parent?.Account
                ?? throw new ProblemException(
                    ProblemKinds.MemberUnusable,
                    $"Account {added.Code} has neither a type nor a parent that tells it.",
                    "Say income, cost, asset, liability, equity or statistic, or name a parent."
                );
        var (code, name) = (UnicodeForm.Compose(added.Code.Trim()), UnicodeForm.Compose((added.Name ?? "").Trim()));
        return new Member(0, dimension.Id, code, name.Length == 0 ? code : name, parent?.Id, 0, [], traits);
    }

    /// <summary>The rows of a trial balance as facts of its month. Without a column of entities, all stand for the
    /// group.</summary>
    /// <exception cref="LoadRefusedException">With the first row that cannot be read or placed.</exception>
    public (List<FactRow> Rows, bool ByEntity) TrialBalance(UploadRow upload, Period through)
    {
        var (source, heads, _) = Open(upload);
        var saved = Saved(heads);
        var mapping = (saved is not null ? ByMapping(saved, heads) : ByDetection(source.Sheets, heads)).Item1;
        var byEntity = mapping.Has("entity");
        var first = _book.Roots(_book.Entities.Id).FirstOrDefault()
            ?? throw LoadRefusedException.File("The book has no entities yet.", "Load them first.");
        // The month is said; an entity is only needed to place the row.
        mapping = mapping with { Kind = TableKind.Opening, FixedPeriod = through, Open = null };
        if (!mapping.Has("account") || !(mapping.Has("amount") || mapping.Has("debit") || mapping.Has("credit")))
            throw new LoadRefusedException(new MissingParts(_book).Of(mapping));
        var table = new TableReader(mapping, _book.Calendar, new RefusalLog());
        var rows = new List<FactRow>();
        RowMapper? mapper = null;
        foreach (var sheet in source.Sheets)
        foreach (var row in table.Data(sheet.Rows().Select(r => r.Row)))
        {
            mapper ??= new RowMapper(_book, mapping, table.Layout!, Member.FirstOwnId)
            {
                EntityWhereNone = byEntity ? null : first.Id,
            };
            if (mapper.Map(row, rows) is { } refusal)
                throw new LoadRefusedException(refusal);
        }
        return (rows, byEntity);
    }
}
