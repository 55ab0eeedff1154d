#include "key_making.h"

#include <algorithm>

namespace avrek::data {

namespace {

constexpr KeyRange points{0.0, 1e6, false};
constexpr KeyRange rate{0.0, 1e6, false};

std::vector<KindFactor> kind_factors(const std::vector<std::pair<std::string, double>>& pairs) {
    std::vector<KindFactor> factors;
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
                "Directions that it meets, half to each side of ahead.",
                [](BodySpec& body, double value) { guard_of(body).arc = from_degrees(value); });
    rows.number("lets_through", share, "", "0", "Share of the damage that goes through.",
                [](BodySpec& body, double value) { guard_of(body).lets_through = value; });
    rows.factors("kinds", "damage", share, "as lets_through", "The same for single kinds of damage.",
                 [](BodySpec& body, const std::vector<std::pair<std::string, double>>& pairs) {
                     guard_of(body).kinds = kind_factors(pairs);
                 });
    rows.number("stamina", points, "", "0: it costs nothing", "What there is to stop damage with.",
                [](BodySpec& body, double value) { guard_of(body).stamina = value; });
    rows.number("cost", factor, "", "1", "Stamina for each point of damage that it stops.",
                [](BodySpec& body, double value) { guard_of(body).cost = value; });
    rows.number("refill", rate, "1/s", "0", "Stamina that comes back.",
                [](BodySpec& body, double value) { guard_of(body).refill = value; });
    rows.seconds("delay", "0", "After a hit that it met, before the stamina comes back.",
                 [](BodySpec& body, double value) { guard_of(body).delay = from_seconds(value); });
    rows.seconds("broken", "0", "That it stays down once the stamina has run out.",
                 [](BodySpec& body, double value) { guard_of(body).broken = from_seconds(value); });
    rows.seconds("perfect", "0", "After it is raised: hits are stopped whole, and at no cost.",
                 [](BodySpec& body, double value) { guard_of(body).perfect = from_seconds(value); });
    rows.flag("perfect_staggers", "false", "A perfect guard against a blade shakes who struck, heavily.",
              [](BodySpec& body, bool value) { guard_of(body).perfect_staggers = value; });
    return {"guard", rows.rows};
}

template <auto Reaction>
Group<BodySpec> reaction_group(const std::string& name) {
    Rows<BodySpec> rows{"body." + name};
    rows.seconds("lasts", "0: the body does not react", "How long it takes.",
                 [](BodySpec& body, double value) { Reaction(body).lasts = from_seconds(value); });
    rows.word("shows", {"staggered", "stunned", "down"}, "\"staggered\", of a heavy one \"stunned\"",
              "What the body is meanwhile.", [](BodySpec& body, std::size_t word) {
                  Reaction(body).shows = static_cast<BodyState>(word + 1);
              });
    rows.seconds("rise", "0", "To get up, after being down.",
                 [](BodySpec& body, double value) { Reaction(body).rise = from_seconds(value); });
    rows.words("forbids", words_of<Act>(act_count), {0.0, 5.0, false}, "all of them",
               "What the body does not do meanwhile.",
               [](BodySpec& body, const std::vector<std::size_t>& words) {
                   Reaction(body).forbids = act_set(words);
               });
    rows.number("push", {0.0, 1000.0, false}, "m/s", "0", "Speed that it gives, the way of the hit.",
                [](BodySpec& body, double value) { Reaction(body).push = value; });
    rows.curve("repeats", share, "reactions, share", "always 1",
               "Share of its time, over the number of such reactions in the window before.",
               // NOLINTNEXTLINE(performance-unnecessary-value-param): rows take functions of this type
               [](BodySpec& body, Curve curve) { Reaction(body).repeats = std::move(curve); });
    rows.seconds("window", "10", "After a reaction, in which the next counts as a repeat.",
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

const std::vector<Key<LayerSpec>>& layer_keys() {
    static const std::vector<Key<LayerSpec>> keys = [] {
        Rows<LayerSpec> rows{"body.layer"};
        rows.number("most", {0.0, 1e6, true}, "points", "", "Points that it has at most.",
                    [](LayerSpec& layer, double value) { layer.most = value; });
        rows.number("start", points, "points", "0", "Points at the start of a life; at most `most`.",
                    [](LayerSpec& layer, double value) { layer.start = value; });
        rows.number("share", share, "", "1", "Share of the damage that it takes, as long as it has points.",
                    [](LayerSpec& layer, double value) { layer.share = value; });
        rows.number("wear", factor, "", "1", "Points that go for each point of damage it takes.",
                    [](LayerSpec& layer, double value) { layer.wear = value; });
        rows.flag("carries_over", "true", "What is too much for its last points goes on, and is not lost.",
                  [](LayerSpec& layer, bool value) { layer.carries_over = value; });
        rows.others(
            "passes", "damage", "none", "Kinds of damage that it does not meet.",
            [](LayerSpec& layer, const std::vector<std::string>& ids) { layer.passes = entry_names(ids); });
        rows.seconds("delay", "0", "Without damage to the body, before it comes back.",
                     [](LayerSpec& layer, double value) { layer.delay = from_seconds(value); });
        rows.number("refill", rate, "points/s", "0", "Points that come back by themselves then.",
                    [](LayerSpec& layer, double value) { layer.refill = value; });
        rows.number("decay", rate, "points/s", "0", "Points that go by themselves.",
                    [](LayerSpec& layer, double value) { layer.decay = value; });
        rows.flag("takes_healing", "false", "Healing that the health has no room for goes here.",
                  [](LayerSpec& layer, bool value) { layer.takes_healing = value; });
        rows.number("depth", {-1000.0, 1000.0, false}, "", "0",
                    "Damage meets layers of less depth first, of equal depth in the order of the file.",
                    [](LayerSpec& layer, double value) { layer.depth = value; });
        return rows.rows;
    }();
    return keys;
}

} // namespace avrek::data
