using Xunit;

namespace Bearing.EndToEnd.Tests;

/// <summary>
/// Further companies, of other trades, calendars and dimensions. Their questions were written in one go, and kept before any was tried.
/// </summary>
public sealed class FurtherCompaniesTests(DemoService demo)
{
    [Fact]
    public async Task Questions_of_a_group_of_laundries_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "laundries", "pellworth");
        await company.Load("plants.csv", [("centres.csv", "centre"), ("sectors.csv", "sector"), ("suppliers.csv", "supplier")], [("forecast-6+6.csv.gz", "Forecast 6+6")]);
        await company.Score(1, 140);
    }

    [Fact]
    public async Task Questions_of_a_firm_of_surveyors_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "surveyors", "calderline");
        await company.Load("offices.csv", [("teams.csv", "team"), ("services.csv", "service"), ("clients.csv", "client"), ("suppliers.csv", "supplier")], [("revised-fy26.csv.gz", "Revised budget FY26"), ("forecast-5+7.csv.gz", "Forecast 5+7")]);
        await company.Score(10, 149);
    }

    [Fact]
    public async Task Questions_of_a_group_of_garden_centres_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "gardens", "withern");
        await company.Load("centres.csv", [("departments.csv", "department"), ("channels.csv", "channel"), ("suppliers.csv", "supplier")], [("autumn-forecast.csv.gz", "Autumn forecast")]);
        await company.Score(2, 145);
    }

    [Fact]
    public async Task Questions_of_a_charity_with_shelters_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "shelters", "harrowdene");
        await company.Load("shelters.csv", [("funds.csv", "fund"), ("programmes.csv", "programme"), ("suppliers.csv", "supplier")], [("revised-fy26.csv.gz", "Revised budget FY26"), ("latest-estimate.csv.gz", "Latest estimate")]);
        await company.Score(4, 137);
    }

    [Fact]
    public async Task Questions_of_a_group_that_hires_out_machines_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "hire", "stanegate");
        await company.Load("depots.csv", [("departments.csv", "department"), ("machines.csv", "machine"), ("suppliers.csv", "supplier")], [("forecast-9+3.csv.gz", "Forecast 9+3")]);
        await company.Score(7, 126);
    }

    [Fact]
    public async Task Questions_of_a_group_of_language_schools_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "schools", "ambleton");
        await company.Load("schools.csv", [("departments.csv", "department"), ("courses.csv", "course"), ("suppliers.csv", "supplier")], [("forecast-6+6.csv.gz", "Forecast 6+6")]);
        await company.Score(9, 129);
    }

    [Fact]
    public async Task Questions_of_a_group_of_printing_works_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "press", "quarto");
        await company.Load("plants.csv", [("departments.csv", "department"), ("products.csv", "product"), ("suppliers.csv", "supplier")], [("forecast-9+3.csv.gz", "Forecast 9+3")]);
        await company.Score(7, 121);
    }

    [Fact]
    public async Task Questions_of_a_group_of_breweries_and_pubs_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "breweries", "tarnhollow");
        await company.Load("sites.csv", [("departments.csv", "department"), ("brands.csv", "brand"), ("customers.csv", "customer")], [("revised-fy26.csv.gz", "Revised budget FY26"), ("forecast-q2.csv.gz", "Q2 forecast")]);
        await company.Score(10, 147);
    }

    [Fact]
    public async Task Questions_of_a_research_institute_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "institute", "fellgate");
        await company.Load("institutes.csv", [("funds.csv", "fund"), ("groups.csv", "team"), ("projects.csv", "project"), ("suppliers.csv", "supplier")], [("revised-fy26.csv.gz", "Revised budget FY26"), ("forecast-8+4.csv.gz", "Forecast 8+4")]);
        await company.Score(1, 139);
    }

    [Fact]
    public async Task Questions_of_a_group_of_hotels_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "hotels", "halveston");
        await company.Load("hotels.csv", [("departments.csv", "department"), ("classes.csv", "room"), ("channels.csv", "channel"), ("suppliers.csv", "supplier")], [("forecast-6+6.csv.gz", "Forecast 6+6")]);
        await company.Score(4, 136);
    }

    [Fact]
    public async Task Questions_of_a_translation_agency_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "translators", "lexmoor");
        await company.Load("offices.csv", [("desks.csv", "desk"), ("languages.csv", "language"), ("clients.csv", "client"), ("suppliers.csv", "supplier")], [("forecast-q1.csv.gz", "Q1 forecast"), ("forecast-q2.csv.gz", "Q2 forecast")]);
        await company.Score(7, 110);
    }

    [Fact]
    public async Task Questions_of_a_chain_of_bakeries_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "bakeries", "crumbwell");
        await company.Load("shops.csv", [("departments.csv", "department"), ("products.csv", "product"), ("suppliers.csv", "supplier")], [("revised-fy26.csv.gz", "Revised budget FY26"), ("forecast-9+3.csv.gz", "Forecast 9+3")]);
        await company.Score(2, 137);
    }

    [Fact]
    public async Task Questions_of_a_group_of_fitness_studios_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "studios", "kinmore");
        await company.Load("studios.csv", [("departments.csv", "department"), ("memberships.csv", "membership"), ("suppliers.csv", "supplier")], [("latest-estimate.csv.gz", "Latest estimate")]);
        await company.Score(5, 135);
    }

    [Fact]
    public async Task Questions_of_a_chain_of_garages_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "garages", "torquehill");
        await company.Load("garages.csv", [("departments.csv", "department"), ("jobs.csv", "job"), ("suppliers.csv", "supplier")], [("revised-fy26.csv.gz", "Revised budget FY26"), ("forecast-8+4.csv.gz", "Forecast 8+4")]);
        await company.Score(11, 131);
    }

    [Fact]
    public async Task Questions_of_a_group_of_day_nurseries_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "nurseries", "larkfield");
        await company.Load("nurseries.csv", [("departments.csv", "department"), ("ages.csv", "age"), ("suppliers.csv", "supplier")], [("forecast-5+7.csv.gz", "Forecast 5+7")]);
        await company.Score(8, 132);
    }

    [Fact]
    public async Task Questions_of_a_chain_of_opticians_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "opticians", "brightholm");
        await company.Load("branches.csv", [("departments.csv", "department"), ("ranges.csv", "range"), ("suppliers.csv", "supplier")], [("revised-fy26.csv.gz", "Revised budget FY26"), ("forecast-5+7.csv.gz", "Forecast 5+7")]);
        await company.Score(4, 139);
    }

    [Fact]
    public async Task Questions_of_a_group_of_campsites_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "campsites", "fernwater");
        await company.Load("campsites.csv", [("departments.csv", "department"), ("pitches.csv", "pitch"), ("suppliers.csv", "supplier")], [("forecast-1.csv.gz", "Forecast 1"), ("forecast-2.csv.gz", "Forecast 2")]);
        await company.Score(1, 142);
    }

    [Fact]
    public async Task Questions_of_a_chain_of_pharmacies_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "pharmacies", "mortarhill");
        await company.Load("pharmacies.csv", [("departments.csv", "department"), ("channels.csv", "channel"), ("suppliers.csv", "supplier")], [("forecast-4+8.csv.gz", "Forecast 4+8")]);
        await company.Score(10, 140);
    }

    [Fact]
    public async Task Questions_of_a_cleaning_contractor_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "cleaners", "sparrowby");
        await company.Load("branches.csv", [("departments.csv", "department"), ("buildings.csv", "building"), ("suppliers.csv", "supplier")], [("revised-fy26.csv.gz", "Revised budget FY26"), ("forecast-6+6.csv.gz", "Forecast 6+6")]);
        await company.Score(7, 138);
    }

    [Fact]
    public async Task Questions_of_an_installer_of_solar_roofs_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "installers", "rooftide");
        await company.Load("branches.csv", [("departments.csv", "department"), ("segments.csv", "segment"), ("suppliers.csv", "supplier")], [("forecast-5+7.csv.gz", "Forecast 5+7")]);
        await company.Score(5, 139);
    }

    [Fact]
    public async Task Questions_of_a_group_of_aquariums_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "aquariums", "tidewell");
        await company.Load("houses.csv", [("departments.csv", "department"), ("visitors.csv", "visitor"), ("suppliers.csv", "supplier")], [("latest-estimate.csv.gz", "Latest estimate")]);
        await company.Score(2, 140);
    }

    [Fact]
    public async Task Questions_of_a_parcel_courier_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "couriers", "swiftmoor");
        await company.Load("depots.csv", [("departments.csv", "department"), ("services.csv", "service"), ("suppliers.csv", "supplier")], [("revised-fy26.csv.gz", "Revised budget FY26"), ("forecast-4+8.csv.gz", "Forecast 4+8")]);
        await company.Score(9, 139);
    }

    [Fact]
    public async Task Questions_of_a_group_of_radio_stations_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "radios", "larkwave");
        await company.Load("stations.csv", [("departments.csv", "department"), ("sectors.csv", "sector"), ("suppliers.csv", "supplier")], [("forecast-1.csv.gz", "Forecast 1"), ("forecast-2.csv.gz", "Forecast 2")]);
        await company.Score(12, 141);
    }

    [Fact]
    public async Task Questions_of_a_group_of_marinas_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "marinas", "saltmere");
        await company.Load("marinas.csv", [("departments.csv", "department"), ("boats.csv", "boat"), ("suppliers.csv", "supplier")], [("forecast-5+7.csv.gz", "Forecast 5+7")]);
        await company.Score(10, 130);
    }

    [Fact]
    public async Task Questions_of_a_group_of_dance_schools_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "dancers", "twostep");
        await company.Load("schools.csv", [("departments.csv", "department"), ("styles.csv", "style"), ("suppliers.csv", "supplier")], [("forecast-7+5.csv.gz", "Forecast 7+5")]);
        await company.Score(1, 130);
    }

    [Fact]
    public async Task Questions_of_a_group_of_kennels_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "kennels", "wagfield");
        await company.Load("kennels.csv", [("departments.csv", "department"), ("animals.csv", "animal"), ("suppliers.csv", "supplier")], [("forecast-4+8.csv.gz", "Forecast 4+8")]);
        await company.Score(3, 129);
    }

    [Fact]
    public async Task Questions_of_a_chain_of_cycle_shops_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "cyclers", "spokeshire");
        await company.Load("shops.csv", [("departments.csv", "department"), ("cycles.csv", "cycle"), ("suppliers.csv", "supplier")], [("forecast-5+7.csv.gz", "Forecast 5+7")]);
        await company.Score(6, 128);
    }

    [Fact]
    public async Task Questions_of_a_trust_of_old_houses_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "houses", "alverwick");
        await company.Load("houses.csv", [("departments.csv", "department"), ("guests.csv", "guest"), ("suppliers.csv", "supplier")], [("forecast-6+6.csv.gz", "Forecast 6+6")]);
        await company.Score(3, 128);
    }

    [Fact]
    public async Task Questions_of_an_operator_of_ski_slopes_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "slopes", "hollenfell");
        await company.Load("slopes.csv", [("departments.csv", "department"), ("tickets.csv", "ticket"), ("suppliers.csv", "supplier")], [("forecast-6+6.csv.gz", "Forecast 6+6")]);
        await company.Score(6, 138);
    }

    [Fact]
    public async Task Questions_of_an_operator_of_swimming_pools_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "pools", "swellbeck");
        await company.Load("pools.csv", [("departments.csv", "department"), ("members.csv", "member"), ("suppliers.csv", "supplier")], [("revised-fy26.csv.gz", "Revised budget FY26"), ("forecast-7+5.csv.gz", "Forecast 7+5")]);
        await company.Score(1, 138);
    }

    [Fact]
    public async Task Questions_of_a_group_of_cinemas_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "cinemas", "lumenfold");
        await company.Load("cinemas.csv", [("departments.csv", "department"), ("showings.csv", "showing"), ("suppliers.csv", "supplier")], [("forecast-6+6.csv.gz", "Forecast 6+6")]);
        await company.Score(7, 143);
    }

    [Fact]
    public async Task Questions_of_a_grower_of_fruit_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "orchards", "plumcote");
        await company.Load("farms.csv", [("departments.csv", "department"), ("crops.csv", "crop"), ("suppliers.csv", "supplier")], [("revised-fy26.csv.gz", "Revised budget FY26"), ("forecast-5+7.csv.gz", "Forecast 5+7")]);
        await company.Score(4, 147);
    }

    [Fact]
    public async Task Questions_of_an_operator_of_shared_offices_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "desks", "deskhaven");
        await company.Load("houses.csv", [("departments.csv", "department"), ("plans.csv", "plan"), ("suppliers.csv", "supplier")], [("forecast-1.csv.gz", "Forecast 1"), ("forecast-2.csv.gz", "Forecast 2")]);
        await company.Score(10, 145);
    }

    [Fact]
    public async Task Questions_of_a_chain_of_bookshops_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "bookshops", "pagewell");
        await company.Load("shops.csv", [("departments.csv", "department"), ("genres.csv", "genre"), ("suppliers.csv", "supplier")], [("revised-fy26.csv.gz", "Revised budget FY26"), ("forecast-6+6.csv.gz", "Forecast 6+6")]);
        await company.Score(8, 143);
    }

    [Fact]
    public async Task Questions_of_an_operator_of_ice_rinks_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "rinks", "frostmere");
        await company.Load("rinks.csv", [("departments.csv", "department"), ("audiences.csv", "audience"), ("suppliers.csv", "supplier")], [("forecast-5+7.csv.gz", "Forecast 5+7")]);
        await company.Score(9, 147);
    }

    [Fact]
    public async Task Questions_of_heritage_tramways_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "trams", "copperline");
        await company.Load("lines.csv", [("departments.csv", "department"), ("tickets.csv", "ticket"), ("suppliers.csv", "supplier")], [("forecast-6+6.csv.gz", "Forecast 6+6")]);
        await company.Score(6, 139);
    }

    [Fact]
    public async Task Questions_of_brick_and_tile_works_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "kilns", "emberfield");
        await company.Load("works.csv", [("departments.csv", "department"), ("ranges.csv", "range"), ("suppliers.csv", "supplier")], [("forecast-q1.csv.gz", "Forecast Q1"), ("forecast-q2.csv.gz", "Forecast Q2")]);
        await company.Score(3, 143);
    }

    [Fact]
    public async Task Questions_of_a_dairy_group_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "dairies", "clovermoor");
        await company.Load("dairies.csv", [("departments.csv", "department"), ("units.csv", "unit"), ("groups.csv", "group"), ("suppliers.csv", "supplier")], [("forecast-8+4.csv.gz", "Forecast 8+4")]);
        await company.Score(4, 139);
    }

    [Fact]
    public async Task Questions_of_recycling_yards_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "recyclers", "ironleaf");
        await company.Load("yards.csv", [("departments.csv", "department"), ("materials.csv", "material"), ("suppliers.csv", "supplier")], [("forecast-6+6.csv.gz", "Forecast 6+6")]);
        await company.Score(1, 130);
    }

    [Fact]
    public async Task Questions_of_bowling_centres_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "bowls", "skittlewood");
        await company.Load("centres.csv", [("departments.csv", "department"), ("guests.csv", "guest"), ("suppliers.csv", "supplier")], [("forecast-7+5.csv.gz", "Forecast 7+5")]);
        await company.Score(8, 127);
    }

    [Fact]
    public async Task Questions_of_a_group_of_thermal_baths_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "baths", "vesperine");
        await company.Load("sites.csv", [("departments.csv", "department"), ("tickets.csv", "ticket"), ("suppliers.csv", "supplier")], [("forecast-5+7.csv.gz", "Forecast 5+7")]);
        await company.Score(4, 131);
    }

    [Fact]
    public async Task Questions_of_a_group_of_flour_mills_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "mills", "grindstone");
        await company.Load("mills.csv", [("departments.csv", "department"), ("products.csv", "product"), ("suppliers.csv", "supplier")], [("forecast-7+5.csv.gz", "Forecast 7+5")]);
        await company.Score(7, 124);
    }

    [Fact]
    public async Task Questions_of_an_operator_of_car_parks_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "parking", "stowaway");
        await company.Load("parks.csv", [("departments.csv", "department"), ("customers.csv", "customer"), ("suppliers.csv", "supplier")], [("forecast-4+8.csv.gz", "Forecast 4+8")]);
        await company.Score(2, 134);
    }

    [Fact]
    public async Task Questions_of_a_group_of_care_homes_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "homes", "hearthside");
        await company.Load("places.csv", [("departments.csv", "department"), ("care.csv", "care"), ("suppliers.csv", "supplier")], [("forecast-5+7.csv.gz", "Forecast 5+7")]);
        await company.Score(10, 124);
    }

    [Fact]
    public async Task Questions_of_a_maker_of_saddles_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "saddlers", "girthwell");
        await company.Load("sites.csv", [("departments.csv", "department"), ("products.csv", "product"), ("suppliers.csv", "supplier")], [("forecast-7+5.csv.gz", "Forecast 7+5")]);
        await company.Score(11, 128);
    }

    [Fact]
    public async Task Questions_of_a_firm_that_looks_after_lifts_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "lifts", "plumbline");
        await company.Load("depots.csv", [("departments.csv", "department"), ("buildings.csv", "building"), ("suppliers.csv", "supplier")], [("forecast-7+5.csv.gz", "Forecast 7+5")]);
        await company.Score(6, 133);
    }

    [Fact]
    public async Task Questions_of_a_group_of_quarries_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "quarries", "rockhold");
        await company.Load("quarries.csv", [("departments.csv", "department"), ("grades.csv", "grade"), ("suppliers.csv", "supplier")], [("forecast-6+6.csv.gz", "Forecast 6+6")]);
        await company.Score(1, 134);
    }

    [Fact]
    public async Task Questions_of_a_trust_of_museums_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "museums", "vitrine");
        await company.Load("museums.csv", [("departments.csv", "department"), ("guests.csv", "guest"), ("suppliers.csv", "supplier")], [("forecast-7+5.csv.gz", "Forecast 7+5")]);
        await company.Score(4, 135);
    }

    [Fact]
    public async Task Questions_of_a_group_of_vineyards_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "vineyards", "tendril");
        await company.Load("estates.csv", [("departments.csv", "department"), ("wines.csv", "wine"), ("suppliers.csv", "supplier")], [("forecast-8+4.csv.gz", "Forecast 8+4")]);
        await company.Score(8, 136);
    }

    [Fact]
    public async Task Questions_of_a_firm_of_taxis_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "cabs", "lantern");
        await company.Load("towns.csv", [("departments.csv", "department"), ("rides.csv", "ride"), ("suppliers.csv", "supplier")], [("forecast-6+6.csv.gz", "Forecast 6+6")]);
        await company.Score(3, 134);
    }

    [Fact]
    public async Task Questions_of_a_chain_of_flower_shops_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "florists", "petalford");
        await company.Load("shops.csv", [("departments.csv", "department"), ("occasions.csv", "occasion"), ("suppliers.csv", "supplier")], [("forecast-7+5.csv.gz", "Forecast 7+5")]);
        await company.Score(7, 137);
    }

    [Fact]
    public async Task Questions_of_a_group_of_airfields_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "airfields", "kiteholm");
        await company.Load("airfields.csv", [("departments.csv", "department"), ("users.csv", "user"), ("suppliers.csv", "supplier")], [("forecast-7+5.csv.gz", "Forecast 7+5")]);
        await company.Score(10, 135);
    }

    [Fact]
    public async Task Questions_of_a_group_of_climbing_halls_are_answered_as_an_expert_would_or_not_at_all()
    {
        var company = new InventedCompany(demo.Client, "walls", "chalkhand");
        await company.Load("halls.csv", [("departments.csv", "department"), ("users.csv", "user"), ("suppliers.csv", "supplier")], [("forecast-6+6.csv.gz", "Forecast 6+6")]);
        await company.Score(4, 134);
    }
}
