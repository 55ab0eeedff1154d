// Time is the server's: whatever a client does with ticks and acknowledgements, it sees nobody as it likes.
#include "../rounds.h"
#include "net_rig.h"
#include "tampering_client.h"
#include <avrek/scene/level_digest.h>

#include <gtest/gtest.h>

#include <algorithm>
#include <functional>
#include <map>

namespace avrek {
namespace {

using View = trial::TamperingClient::View;

// The means by which a shooter chooses when it sees its target.
struct Choice {
    int in_hand = 4;       ///< ticks by which its intents are early
    Tick names = -1;       ///< the snapshot that it acknowledges
    bool believes = false; ///< it aims where that snapshot has its target, as if its word counted
};

// Its knowledge: the snapshots that have come, the newest last, and whether the target is in sight in the
// picture that goes with one, if it is named.
struct Knowledge {
    std::span<const View> views{};
    std::function<bool(const View&, bool believes)> is_free{};
    const View& before(std::size_t by) const {
        return views[views.size() - 1 - std::min(by, views.size() - 1)];
    }
};
using Chooses = std::function<Choice(const Knowledge& known)>;

Choice freest(const Knowledge& known, std::size_t most, std::size_t step, std::size_t otherwise,
              bool believes) {
    for (std::size_t back = 0; back < std::min(known.views.size(), most); back += step) {
        if (known.is_free(known.before(back), believes)) {
            return {4, known.before(back).tick, believes};
        }
    }
    return {4, known.before(otherwise).tick, believes};
}

const std::map<std::string, Chooses>& cheats() {
    static const std::map<std::string, Chooses> all{
        {"names the snapshot that it likes",
         [](const Knowledge& known) { return freest(known, 60, 1, 0, false); }},
        {"names the snapshot that it likes, and believes in it",
         [](const Knowledge& known) { return freest(known, 15, 1, 0, true); }},
        {"acknowledges once a second, and what it likes of that",
         [](const Knowledge& known) {
             const std::size_t since = (known.views.size() - 1) % 32; // the newest that it names
             return freest({known.views.first(known.views.size() - since), known.is_free}, 60, 32, 0, false);
         }},
        {"holds back while the target is hidden",
         [](const Knowledge& known) { return freest(known, 16, 4, 12, false); }},
        {"hurries while the target is hidden",
         [](const Knowledge& known) {
             return Choice{known.is_free(known.before(0), false) ? 4 : 16, known.before(0).tick};
         }},
        {"keeps nothing in hand",
         [](const Knowledge& known) {
             return Choice{3, known.before(0).tick};
         }},
        {"claims a slow link", [](const Knowledge& known) {
             return Choice{4, known.before(8).tick};
         }}};
    return all;
}

Choice plays_fair(const Knowledge& known) {
    return {4, known.before(0).tick};
}

const Arsenal& fair_arsenal() {
    static const Arsenal arsenal = [] {
        Arsenal made = trial::make_bots_arsenal();
        made.matches[0].lag_compensation = {.max_rewind = from_seconds(1), .cover_grace = from_seconds(1)};
        made.bodies[0].health = 1e5;
        made.bodies[0].light_reaction.lasts = {};
        made.weapons[0].magazine = 1000;
        made.weapons[0].spread.hip = 0.0;
        made.weapons[0].recoil = {};
        return made;
    }();
    return arsenal;
}

// Walls between a shooter and the lane in which its target walks to and fro.
struct Lane {
    Level level{};
    LevelPlan plan{};
    explicit Lane(Draw& draw) {
        std::vector<LevelPiece> pieces{{HalfSpace{world_up(), 0}, SurfaceId{1}}};
        for (int wall = -2; wall <= 2; ++wall) {
            const double at = 3.5 * wall + draw(-0.5, 0.5);
            pieces.push_back(
                {Box{{{at, 1.5, 4}, Rotation::Identity()}, {draw(0.4, 0.9), 1.5, 0.2}}, SurfaceId{2}});
        }
        level = Level{std::move(pieces)};
        plan.spawns = {{{0, 0, 8}, pi, TeamId{0}}, {{0, 0, -8}, 0.0, TeamId{1}}};
    }
};

// A fight of six seconds between a shooter who aims without error, shoots whenever it sees its target, and
// chooses in its way when that is; and a target that walks to and fro.
struct LaneFight {
    Draw draw;
    Lane lane{draw};
    trial::NetRig rig;
    trial::TamperingClient shooter;
    trial::TamperingClient walker;
    std::map<Time, Vector3> were{}; // feet of the target
    double heading = 1.0;

    LaneFight(std::uint64_t seed, Duration interpolation)
        : draw(seed), rig(2, lane.level, fair_arsenal(), lane.plan, seed),
          shooter(rig.network.connect({.latency = from_seconds(0.03)}, rig.ticket(1)), trial::net_digest(),
                  digest_of(rig.data.arena.level), {.interpolation = interpolation}),
          walker(rig.network.connect({}, rig.ticket(2)), trial::net_digest(), digest_of(rig.data.arena.level),
                 {}) {}

    // A point of the target that the shooter sees in the picture that goes with a snapshot, for its next
    // intent.
    std::optional<Vector3> seen(const View& view, bool believes) const {
        const Skirmish& skirmish = rig.server->skirmish();
        const TickRate rate = skirmish.settings().rate;
        const Vector3 eye = skirmish.readout(BodyId{1}).eye;
        const Time at =
            believes ? tick_span(view.tick, rate).end : tick_span(shooter.next(), rate).begin - view.delay;
        auto feet = were.lower_bound(at);
        feet = feet == were.end() ? std::prev(feet) : feet;
        for (const Vector3& point : {Vector3{0, 1, 0}, Vector3{0.19, 1, 0}, Vector3{-0.19, 1, 0}}) {
            const Vector3 way = feet->second + point - eye;
            const double length = std::sqrt(way.squaredNorm());
            if (!skirmish.scene().any_hit({{eye, way / length, length}}, {.hits = {CollisionLayer::level}})) {
                return Vector3{feet->second + point};
            }
        }
        return std::nullopt;
    }
    void walk(const Fighter& target) {
        const double x = target.motion.position.x();
        were[rig.server->skirmish().now()] = target.motion.position;
        if (x * heading > 7.0 || (std::abs(x) < 7.0 && draw.below(800) == 0)) {
            heading = -heading;
        }
    }
    void step(const Chooses& choose) {
        const Skirmish& skirmish = rig.server->skirmish();
        const Fighter* target = skirmish.find(BodyId{2});
        if (target != nullptr) {
            walk(*target);
        }
        walker.run({.yaw = static_cast<float>(0.5 * pi * heading), .ahead = 0.8F}, skirmish.tick());
        Choice choice;
        Intent wants;
        if (target != nullptr && skirmish.find(BodyId{1}) != nullptr && !shooter.views().empty()) {
            choice = choose({shooter.views(), [this](const View& view, bool believes) {
                                 return seen(view, believes).has_value();
                             }});
            const auto named = std::find_if(shooter.views().begin(), shooter.views().end(),
                                            [&](const View& view) { return view.tick == choice.names; });
            if (const auto point = seen(*named, choice.believes)) {
                const Look look = look_of(*point - skirmish.readout(BodyId{1}).eye);
                wants.yaw = static_cast<float>(look.yaw);
                wants.pitch = static_cast<float>(look.pitch);
                wants.buttons.set(Button::trigger, skirmish.now() > Time{from_seconds(2)});
            }
        }
        shooter.run(wants, skirmish.tick(), choice.in_hand, choice.names);
        rig.run(0.002);
    }
};

// Damage that the shooter does.
double damage_of(const Chooses& choose, std::uint64_t seed, Duration interpolation) {
    LaneFight fight{seed, interpolation};
    const Skirmish& skirmish = fight.rig.server->skirmish();
    while (skirmish.now() < Time{from_seconds(6)}) {
        fight.step(choose);
    }
    EXPECT_EQ(fight.rig.server->faults().guilty(), 0U);
    return skirmish.match().find(BodyId{1})->stats.damage_dealt;
}

TEST(FairTime, NobodyGainsByChoosingWhenItSees) {
    const int fights = rounds(30, "AVREK_FIGHTS");
    const auto sum = [fights](const Chooses& choose, Duration interpolation = {}) {
        double damage = 0.0;
        for (int seed = 1; seed <= fights; ++seed) {
            damage += damage_of(choose, static_cast<std::uint64_t>(seed), interpolation);
        }
        return damage;
    };
    const double fair = sum(plays_fair);
    const double allowed = (fights >= 30 ? 1.02 : 1.15) * fair; // a few fights tell less
    EXPECT_GT(fair, 150.0 * fights);
    for (const auto& [what, chooses] : cheats()) {
        EXPECT_LE(sum(chooses), allowed) << what;
    }
    EXPECT_LE(sum(plays_fair, from_seconds(0.3)), allowed) << "asks for an old picture";
}

// The first player can claim what it likes; the second stands in the open, or behind a wall.
struct Claimant {
    trial::NetRig rig;
    trial::TamperingClient claims;

    explicit Claimant(bool is_hidden)
        : rig(2, ground(is_hidden), fair_arsenal(), plan()),
          claims(rig.network.connect({}, rig.ticket(1)), trial::net_digest(), digest_of(rig.data.arena.level),
                 {}) {
        rig.join(rig.ticket(2));
        rig.wants.back() = {};
    }
    static Level ground(bool is_hidden) {
        std::vector<LevelPiece> pieces{{HalfSpace{world_up(), 0}, SurfaceId{1}}};
        if (is_hidden) {
            pieces.push_back({Box{{{0, 2, 0}, Rotation::Identity()}, {9, 2, 0.2}}, SurfaceId{2}});
        }
        return Level{std::move(pieces)};
    }
    static LevelPlan plan() {
        LevelPlan plan;
        plan.spawns = {{{0, 0, 8}, pi, TeamId{0}}, {{0, 0, -8}, 0.0, TeamId{1}}};
        return plan;
    }
    bool is_noticed() const { return std::as_const(*rig.server).skirmish().match().is_alert(BodyId{2}); }
};

// The first claims to notice the second, who stands in the open or behind a wall, and hurries, turns about
// and names old snapshots: all is counted.
TEST(FairTime, WhoClaimsToNoticeAFoeMustSeeIt) {
    for (const bool is_hidden : {false, true}) {
        Claimant one{is_hidden};
        trial::NetRig& rig = one.rig;
        trial::TamperingClient& claims = one.claims;
        for (int step = 0; step < 1000; ++step) {
            const auto views = claims.views();
            const std::size_t back = step % 2 == 0 ? 1 : 2;
            const Tick named = views.size() > 2 ? views[views.size() - back].tick : -1;
            claims.run({.yaw = step % 20 < 10 ? 0.0F : 3.0F, .spotted = BodyId{2}},
                       rig.server->skirmish().tick(), is_hidden ? 40 : 4, named);
            rig.run(0.002);
        }
        EXPECT_EQ(one.is_noticed(), !is_hidden);
        const auto peers = rig.server->peers();
        const auto readout = std::find_if(peers.begin(), peers.end(),
                                          [](const PeerReadout& peer) { return peer.player == BodyId{1}; });
        ASSERT_NE(readout, peers.end());
        EXPECT_EQ(readout->signs.unseen > 0, is_hidden);
        EXPECT_EQ(readout->signs.early > 0, is_hidden);
        EXPECT_GT(readout->signs.stale, 0U);
        EXPECT_GT(readout->signs.turns, 0U);
        EXPECT_EQ(readout->faults.guilty(), 0U);
    }
}

// After many claims about nobody, one about a foe in the open is not looked at before the second is over.
TEST(FairTime, ManyWrongClaimsAreNotLookedAt) {
    for (const bool is_bold : {true, false}) {
        Claimant one{false};
        for (int step = 0; step < 1500; ++step) {
            const Tick tick = one.rig.server->skirmish().tick();
            const bool is_right = step > 500 && tick % 64 >= 40 && tick % 64 < 56;
            const BodyId whom = is_right ? BodyId{2} : is_bold ? BodyId{9} : nobody;
            one.claims.run({.spotted = whom}, tick, 4, -1);
            one.rig.run(0.002);
        }
        EXPECT_EQ(one.is_noticed(), !is_bold);
    }
}

// Bots claim to notice foes that they see in pictures of a fifth of a second ago, and those who come back.
TEST(FairTime, HonestClaimsToNoticeAreBelieved) {
    const GameData data = trial::net_data();
    LinkTrial match{data, trial::net_setup(8, {.latency = from_seconds(0.1), .jitter = from_seconds(0.01)}),
                    2};
    std::uint64_t claims = 0;
    for (int tick = 0; tick < 64 * 60; ++tick) {
        match.step();
        for (const Fighter& fighter : match.server().skirmish().fighters()) {
            claims += fighter.intent.spotted != nobody ? 1U : 0U;
        }
    }
    std::uint64_t unseen = 0;
    for (const PeerReadout& peer : match.server().peers()) {
        unseen += peer.signs.unseen;
    }
    EXPECT_GT(claims, 100U);
    EXPECT_LE(50 * unseen, claims);
}

} // namespace
} // namespace avrek
