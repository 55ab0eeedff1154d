#include "key_making.h"

#include <algorithm>

namespace avrek::detail {

namespace {

constexpr KeyRange points{0.0, 1e6, false};
constexpr KeyRange rate{0.0, 1e6, false};

std::vector<DamageTypeFactor> type_factors(const std::vector<std::pair<std::string, double>>& pairs) {
    std::vector<DamageTypeFactor> factors;
    factors.reserve(pairs.size());
    for (const auto& [id, value] : pairs) {
        factors.push_back({{id}, value});
    }
    return factors;
}

GuardSpec& guard_of(BodySpec& body) {
    return body.guard ? *body.guard : body.guard.emplace();
}

Group<BodySpec> guard_group() {
    Rows<BodySpec> rows{"body.guard"};
    rows.number("arc", {0.0, 360.0, true}, "degrees", "180",
                "Angle that the guard covers, half to each side of ahead.",
                [](BodySpec& body, double value) { guard_of(body).arc = from_degrees(value); });
    rows.number("lets_through", share, "", "0", "Share of the damage that passes the guard.",
                [](BodySpec& body, double value) { guard_of(body).lets_through = value; });
    rows.factors("types", "damage", share, "as lets_through", "That share for single damage types.",
                 [](BodySpec& body, const std::vector<std::pair<std::string, double>>& pairs) {
                     guard_of(body).types = type_factors(pairs);
                 });
    rows.number("stamina", points, "", "0: it costs nothing", "Stamina to stop damage with.",
                [](BodySpec& body, double value) { guard_of(body).stamina = value; });
    rows.number("cost", factor, "", "1", "Stamina per point of damage stopped.",
                [](BodySpec& body, double value) { guard_of(body).cost = value; });
    rows.number("refill", rate, "1/s", "0", "Stamina that returns.",
                [](BodySpec& body, double value) { guard_of(body).refill = value; });
    rows.seconds("delay", "0", "Delay after a guarded hit before the stamina returns.",
                 [](BodySpec& body, double value) { guard_of(body).delay = from_seconds(value); });
    rows.seconds("broken", "0", "Time for which a broken guard stays down.",
                 [](BodySpec& body, double value) { guard_of(body).broken = from_seconds(value); });
    rows.seconds("perfect", "0", "Window after raising in which hits are stopped whole, at no cost.",
                 [](BodySpec& body, double value) { guard_of(body).perfect = from_seconds(value); });
    rows.flag("perfect_staggers", "false", "A perfect guard against a blade staggers the attacker heavily.",
              [](BodySpec& body, bool value) { guard_of(body).perfect_staggers = value; });
    return {"guard", rows.rows};
}

template <auto Reaction>
Group<BodySpec> reaction_group(const std::string& name) {
    Rows<BodySpec> rows{"body." + name};
    rows.seconds("lasts", "0: the body does not react", "Duration of the reaction.",
                 [](BodySpec& body, double value) { Reaction(body).lasts = from_seconds(value); });
    rows.word("shows", {"staggered", "stunned", "down"}, "\"staggered\", of a heavy one \"stunned\"",
              "State of the body meanwhile.", [](BodySpec& body, std::size_t word) {
                  Reaction(body).shows = static_cast<BodyState>(word + 1);
              });
    rows.seconds("rise", "0", "Time to get up, after being down.",
                 [](BodySpec& body, double value) { Reaction(body).rise = from_seconds(value); });
    rows.words("forbids", words_of<Act>(act_count), {0.0, 5.0, false}, "all of them",
               "Acts that the body cannot do meanwhile.",
               [](BodySpec& body, const std::vector<std::size_t>& words) {
                   Reaction(body).forbids = act_set(words);
               });
    rows.number("push", {0.0, 1000.0, false}, "m/s", "0", "Speed that it gives, along the hit.",
                [](BodySpec& body, double value) { Reaction(body).push = value; });
    rows.curve("repeats", share, "reactions, share", "always 1",
               "Share of the duration, over the number of such reactions in the window before.",
               // NOLINTNEXTLINE(performance-unnecessary-value-param): rows take functions of this type
               [](BodySpec& body, Curve curve) { Reaction(body).repeats = std::move(curve); });
    rows.seconds("window", "10", "Time after a reaction in which the next counts as a repeat.",
                 [](BodySpec& body, double value) { Reaction(body).window = from_seconds(value); });
    return {name, rows.rows};
}

} // namespace

const std::vector<Group<BodySpec>>& body_groups() {
    static const std::vector<Group<BodySpec>> groups{
        guard_group(),
        reaction_group<[](BodySpec& body) -> ReactionSpec& { return body.light_reaction; }>("light_reaction"),
        reaction_group<[](BodySpec& body) -> ReactionSpec& { return body.heavy_reaction; }>("heavy_reaction"),
        movement_group(), posture_group()};
    return groups;
}

const std::vector<Key<DefenceLayerSpec>>& defence_layer_keys() {
    static const std::vector<Key<DefenceLayerSpec>> keys = [] {
        Rows<DefenceLayerSpec> rows{"body.defence"};
        rows.number("max", {0.0, 1e6, true}, "points", "", "Maximum points.",
                    [](DefenceLayerSpec& layer, double value) { layer.max = value; });
        rows.number("start", points, "points", "0", "Points at the start of a life; at most max.",
                    [](DefenceLayerSpec& layer, double value) { layer.start = value; });
        rows.number("share", share, "", "1", "Share of the damage that it takes, as long as it has points.",
                    [](DefenceLayerSpec& layer, double value) { layer.share = value; });
        rows.number("wear", factor, "", "1", "Points lost per point of damage taken.",
                    [](DefenceLayerSpec& layer, double value) { layer.wear = value; });
        rows.flag("carries_over", "true", "Excess damage passes to the next layer.",
                  [](DefenceLayerSpec& layer, bool value) { layer.carries_over = value; });
        rows.others("passes", "damage", "none", "Damage types that pass it.",
                    [](DefenceLayerSpec& layer, const std::vector<std::string>& ids) {
                        layer.passes = entry_names(ids);
                    });
        rows.seconds("delay", "0", "Time without damage to the body before points return.",
                     [](DefenceLayerSpec& layer, double value) { layer.delay = from_seconds(value); });
        rows.number("refill", rate, "points/s", "0", "Points that return by themselves.",
                    [](DefenceLayerSpec& layer, double value) { layer.refill = value; });
        rows.number("decay", rate, "points/s", "0", "Points that are lost by themselves.",
                    [](DefenceLayerSpec& layer, double value) { layer.decay = value; });
        rows.flag("takes_healing", "false", "Healing beyond full health goes here.",
                  [](DefenceLayerSpec& layer, bool value) { layer.takes_healing = value; });
        rows.number("depth", {-1000.0, 1000.0, false}, "", "0",
                    "Damage meets layers with less depth first; with equal depth, in the order of the file.",
                    [](DefenceLayerSpec& layer, double value) { layer.depth = value; });
        return rows.rows;
    }();
    return keys;
}

} // namespace avrek::detail
