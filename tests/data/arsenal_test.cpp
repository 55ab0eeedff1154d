#include <avrek/data/arsenal_keys.h>
#include <avrek/data/arsenal_toml.h>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <fstream>
#include <map>
#include <set>
#include <sstream>

namespace avrek {
namespace {

std::string file_text(const std::string& name) {
    std::ifstream file{AVREK_SOURCE_DIR "/" + name};
    std::stringstream text;
    text << file.rdbuf();
    return text.str();
}

const std::string base_text =
    "[weapon.thorn]\nrate_of_fire = 600\nmagazine = 30\nreload.time = 2.5\nrange = 90\ndamage = 20\n"
    "spread.hip = 1.5\nregion = { head = 2, legs = 0.5 }\n"
    "[body.crew.region.legs]\nshapes = [{ capsule = [[0, 0, 0], [0, 1, 0]], radius = 0.1 }]\n"
    "[body.crew.region.head]\nshapes = [{ sphere = [0, 1.5, 0], radius = 0.1 },"
    "{ box = [0, 1.7, 0], half = [0.1, 0.2, 0.3], turn = [90, 0] }]\n";

TEST(Arsenal, ReadsEveryValueInTheUnitsOfCode) {
    const Loaded<Arsenal> arsenal = parse_arsenal(base_text, "base.toml");
    ASSERT_TRUE(arsenal);
    const WeaponSpec& thorn = arsenal->weapons.at(0);
    EXPECT_EQ(thorn.id, "thorn");
    EXPECT_EQ(thorn.modes.front(), TriggerMode::automatic);
    EXPECT_EQ(thorn.reload.time, std::chrono::milliseconds{2500});
    EXPECT_DOUBLE_EQ(thorn.spread.hip, 1.5 * pi / 180.0);
    EXPECT_EQ(thorn.reserve, 0);
    EXPECT_EQ(region_multiplier(thorn.region_multipliers, "head"), 2.0);
    EXPECT_EQ(region_multiplier(thorn.region_multipliers, "arms"), 1.0);
    const BodySpec& crew = arsenal->bodies.at(0);
    EXPECT_EQ(crew.health, 100.0);
    ASSERT_EQ(crew.rig.regions.size(), 2U);
    EXPECT_EQ(crew.rig.regions[0].name, "legs") << "in the order of the file";
    EXPECT_EQ(find_region(crew.rig, "head"), RegionId{1});
    EXPECT_EQ(find_region(crew.rig, "tail"), std::nullopt);
    EXPECT_EQ(aim_point(crew.rig, RegionId{1}), Vector3(0, 1.5, 0));
    const auto& box = std::get<Box>(crew.rig.regions[1].shapes.at(1));
    EXPECT_LT((box.pose.rotation * world_forward() - world_left()).norm(), 1e-15);
    EXPECT_EQ(find(arsenal->weapons, "thorn"), &thorn);
    EXPECT_EQ(find(arsenal->weapons, "crew"), nullptr);
    EXPECT_EQ(find(arsenal->bodies, "crew"), &crew);
}

TEST(Arsenal, LikeTakesOverWhatIsNotGivenAndLaterFilesOverlay) {
    const std::string more = "[weapon.long]\nlike = \"thorn\"\ndamage = 30\nregion = { head = 3 }\n"
                             "[weapon.longer]\nlike = \"long\"\nrange = 200\n"
                             "[body.guard]\nlike = \"crew\"\nhealth = 150\n";
    const std::vector<ArsenalText> texts{{"base.toml", base_text},
                                         {"more.toml", more},
                                         {"tune.toml", "[weapon.thorn]\nmagazine = 40\nregion.legs = 0.7\n"}};
    const Loaded<Arsenal> arsenal = parse_arsenal(texts);
    ASSERT_TRUE(arsenal) << to_string(arsenal.diagnostics.at(0));
    ASSERT_EQ(arsenal->weapons.size(), 3U);
    const WeaponSpec& longer = *find(arsenal->weapons, "longer");
    EXPECT_EQ(longer.id, "longer");
    EXPECT_EQ(longer.range, 200.0);
    EXPECT_EQ(longer.damage, 30.0);
    EXPECT_EQ(longer.magazine, 40) << "what it is like was overlaid";
    EXPECT_EQ(region_multiplier(longer.region_multipliers, "head"), 3.0);
    EXPECT_EQ(region_multiplier(longer.region_multipliers, "legs"), 0.7);
    EXPECT_EQ(find(arsenal->weapons, "thorn")->damage, 20.0);
    EXPECT_EQ(find(arsenal->bodies, "guard")->rig.regions.size(), 2U);
    EXPECT_EQ(find(arsenal->bodies, "guard")->health, 150.0);
}

TEST(Arsenal, AnEmptyOverlayIsAWarning) {
    const std::vector<ArsenalText> texts{{"base.toml", base_text}, {"tune.toml", "# nothing yet\n"}};
    const Loaded<Arsenal> arsenal = parse_arsenal(texts);
    ASSERT_TRUE(arsenal);
    ASSERT_EQ(arsenal.diagnostics.size(), 1U);
    EXPECT_EQ(arsenal.diagnostics[0].severity, Severity::warning);
}

TEST(Arsenal, TheShippedOneIsSound) {
    const Loaded<Arsenal> arsenal = load_arsenal(AVREK_SOURCE_DIR "/data/halm-ring.toml");
    ASSERT_TRUE(arsenal);
    EXPECT_TRUE(arsenal.diagnostics.empty());
    EXPECT_NE(find(arsenal->weapons, "thorn-rifle"), nullptr);
    EXPECT_NE(find(arsenal->weapons, "needle-pistol"), nullptr);
    EXPECT_NE(find(arsenal->bodies, "crew"), nullptr);
}

// The keys of a table of the schema and of those in it, by section: "weapon" -> {like, trigger, ...}.
void collect(const nlohmann::json& table, const std::string& name,
             std::map<std::string, std::set<std::string>>& keys) {
    for (const auto& [key, value] : table.at("properties").items()) {
        keys[name].insert(key);
        if (value.contains("properties")) {
            collect(value, name + '.' + key, keys);
        } else if (value.contains("patternProperties")) {
            collect(value["patternProperties"].front(), name + '.' + key, keys);
        } else if (key == "shapes") {
            collect(value["items"], name + ".shape", keys);
        }
    }
}

std::map<std::string, std::set<std::string>> schema_keys(const nlohmann::json& schema) {
    std::map<std::string, std::set<std::string>> keys;
    for (const auto& [section, tables] : schema.at("properties").items()) {
        collect(tables.at("patternProperties").front(), section, keys);
    }
    return keys;
}

// A weapon says what it has a use for, and no more.
TEST(ArsenalFile, AsksOnlyForWhatCounts) {
    for (const char* weapon :
         {"supply = \"endless\"\nrange = 9\ndamage = 1", "supply = \"endless\"\nprojectile = \"seed\"",
          "supply = \"endless\"\nrange = 9\neffect.condition = \"rot\"",
          "feed = \"heat\"\nheat.per_shot = 0.1\nrange = 9\ndamage = 1"}) {
        const std::string text = "[weapon.a]\nrate_of_fire = 60\n" + std::string{weapon} +
                                 "\n[projectile.seed]\n[condition.rot]\n";
        const Loaded<Arsenal> loaded = parse_arsenal(text, "x");
        EXPECT_TRUE(loaded) << text << (loaded ? "" : to_string(loaded.diagnostics.front()));
    }
}

// A text in which `key` of `section` has a value of a type that no key takes.
std::string with_wrong_value(const std::string& section, const std::string& key) {
    if (section == "body.region.shape") {
        return "[body.x.region.y]\nshapes = [{ " + key + " = 2026-01-01 }]\n";
    }
    std::stringstream parts{section};
    std::string part;
    std::getline(parts, part, '.');
    std::string text = '[' + part + ".x]\n";
    while (std::getline(parts, part, '.')) {
        const bool named = part == "region" || part == "joint" || part == "defence" || part == "attack" ||
                           part == "pose" || part == "reaction" || part == "side";
        text += part + (named ? ".y." : ".");
    }
    return text + key + " = 2026-01-01\n";
}

TEST(ArsenalKeys, AreTheSameInSchemaLoaderAndDocumentation) {
    const std::string shipped = file_text("data/arsenal.schema.json");
    EXPECT_EQ(shipped, arsenal_schema()) << "renew it: avrek keys --schema --out data/arsenal.schema.json";
    const std::string documentation = file_text("docs/arsenal.md");
    std::map<std::string, std::set<std::string>> listed;
    for (const KeyRule& rule : arsenal_keys()) {
        listed[rule.section].insert(rule.name);
        const std::string row = "| `" + rule.name + "` | " + to_string(rule.type) + " | " +
                                allowed_text(rule) + " | " + (rule.required ? "required" : rule.fallback) +
                                " | " + rule.meaning + " |";
        EXPECT_NE(documentation.find(row), std::string::npos) << rule.section << ": docs/arsenal.md lacks\n"
                                                              << row;
        // The loader knows the key: it has something against the value, and nothing against the name.
        bool value_refused = false;
        for (const Diagnostic& fault :
             parse_arsenal(with_wrong_value(rule.section, rule.name), "x").diagnostics) {
            EXPECT_EQ(fault.message.find("has no key"), std::string::npos)
                << rule.section << '.' << rule.name;
            value_refused |= fault.message.find("is a date or time") != std::string::npos ||
                             fault.message.find("do not make one shape") != std::string::npos;
        }
        EXPECT_TRUE(value_refused) << rule.section << '.' << rule.name;
    }
    EXPECT_EQ(schema_keys(nlohmann::json::parse(shipped)), listed);
}

} // namespace
} // namespace avrek
