using System.Text.RegularExpressions;
using Bearing.Contracts;
using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Loading;
using Bearing.Data.Books;
using Bearing.Data.Formats;
using Bearing.Data.State;
using Bearing.Service.Hosting;

namespace Bearing.Service.Loading;

internal sealed partial class LoadPlanner
{
    private Period? CutOffByName(string code, string name) =>
        _book.CurrentPeriod is { } now
        && MonthsPattern().Match($"{name} {code}") is { Success: true } match
        && int.Parse(match.Groups[1].ValueSpan, System.Globalization.CultureInfo.InvariantCulture)
            is >= 1
                and <= 11
                and var months
            ? new Period(now.Year, months)
            : null;

    /// <summary>What the request says goes before what the mapping says.</summary>
    private MappingScenario? Scenario(MappingFile? saved)
    {
        if (request.Scenario is null)
            return saved?.Scenario;
        return saved?.Scenario is { } known && known.Code == request.Scenario
                ? known with
                {
                    Version = request.Version ?? known.Version,
                    CutOff = request.CutOff ?? known.CutOff,
                }
            : CodePattern().IsMatch(request.Scenario)
                ? new MappingScenario(
                    request.Scenario,
                    request.ScenarioName,
                    request.ScenarioKind,
                    request.Version,
                    request.CutOff
                )
            : new MappingScenario(
                Coded(request.Scenario),
                request.ScenarioName ?? Title(request.Scenario),
                request.ScenarioKind,
                request.Version,
                request.CutOff
            );
    }

    /// <summary>"Forecast 4+8" → "forecast-4-8"; as it stands where no code can be made of it.</summary>
    private static string Coded(string name) =>
        OtherThanCode().Replace(name.Trim().ToLowerInvariant(), "-").Trim('-') is { Length: > 0 and <= 40 } code ? code : name;

    private Dictionary<string, LoadTarget> Targets(FileMapping mapping, MappingFile? saved)
    {
        var codes = mapping.Columns.Select(c => c.Sets.GetValueOrDefault("scenario")).OfType<string>().Distinct();
        return codes.ToDictionary(
            c => c,
            c => Target(saved?.Scenarios?.GetValueOrDefault(c) ?? new MappingScenario(c), mapping.RateSet)
        );
    }

    /// <param name="rates">The set of rates that is named for its amounts, if one is.</param>
    private LoadTarget Target(MappingScenario? scenario, string? rates)
    {
        var code = scenario?.Code ?? Book.ActualCode;
        if (!CodePattern().IsMatch(code) || code.StartsWith("prior", StringComparison.Ordinal))
            throw new ProblemException(
                ProblemKinds.ValueUnusable,
                $"“{code}” cannot be a scenario code.",
                "Use lower-case letters, digits and dashes, for example budget-2027."
            );
        var version = scenario?.Version ?? "v1";
        if (!CodePattern().IsMatch(version))
            throw new ProblemException(
                ProblemKinds.ValueUnusable,
                $"“{version}” cannot be a version code.",
                "Use lower-case letters, digits and dashes, for example v2."
            );
        Period? cutOff =
            scenario?.CutOff is null ? null
            : Period.TryParse(scenario.CutOff, out var p) ? p
            : throw new ProblemException(
                ProblemKinds.ValueUnusable,
                $"“{scenario.CutOff}” is not a period.",
                "Write it as 2026-P06 (fiscal year and period)."
            );
        if (_book.Scenario(code) is { } known)
        {
            var into = known.Versions.FirstOrDefault(v => v.Code == (scenario?.Version ?? known.Current.Code));
            return new LoadTarget(
                known.Code,
                known.Name,
                known.Kind,
                scenario?.Version ?? known.Current.Code,
                cutOff ?? known.Current.CutOff
            )
            {
                RateSet = into is null ? rates : into.RateSet ?? rates,
            };
        }
        if (code == Book.ActualCode)
            return new LoadTarget(code, "Actual", ScenarioKind.Actual, version, null);
        var kind = scenario!.Kind is null
            ? IsForecast($"{scenario.Name} {code}")
                ? ScenarioKind.Forecast
                : ScenarioKind.Budget
            : Parse<ScenarioKind>(scenario.Kind, "scenarioKind");
        var name = string.IsNullOrWhiteSpace(scenario.Name) ? Title(code) : scenario.Name.Trim();
        return new LoadTarget(
            code,
            name,
            kind,
            version,
            cutOff ?? (kind == ScenarioKind.Forecast ? CutOffByName(code, name) : null)
        )
        {
            RateSet = rates,
        };
    }

    /// <summary>"Autumn forecast", "latest-estimate": a plan that is called by one of the words for forecasts.</summary>
    private static bool IsForecast(string name) =>
        Words
            .Tokens(name)
            .Exists(t =>
                Vocabulary
                    .English.Find(t.Stem)
                    .Any(e =>
                        e
                            is { Kind: MentionKind.Scenario, Value: "forecast" }
                                or { Kind: MentionKind.Projection, Value: "outlook" }
                    )
            );

    /// <summary>"budget-2027" → "Budget 2027".</summary>
    private static string Title(string code) => char.ToUpperInvariant(code[0]) + code[1..].Replace('-', ' ');

    [GeneratedRegex(@"\b(\d{1,2})[+-](\d{1,2})\b")]
    private static partial Regex MonthsPattern();

    [GeneratedRegex("[^a-z0-9]+")]
    private static partial Regex OtherThanCode();

    [GeneratedRegex("^[a-z][a-z0-9-]{0,39}$")]
    private static partial Regex CodePattern();
}
