#pragma once
#include "match_parts.h"
#include <avrek/core/state_fields.h>
#include <avrek/core/state_hash.h>
#include <avrek/skirmish/skirmish.h>

#include <concepts>
#include <cstdint>
#include <string_view>
#include <type_traits>

/// Numbers of a state, for hashes, differences and replays.
namespace avrek::detail {

/// Turns the fields of a walk into numbers: `sink(name, std::int64_t)` and `sink(name, double)`. Tells the
/// sink where they are by `sink.enter(name, index)` and `sink.leave()`; an index below 0 is none.
template <class Sink>
class FieldNumbers {
  public:
    static constexpr bool is_whole = false;

    explicit FieldNumbers(Sink& sink) : sink_(sink) {}

    static bool takes(FieldUse) { return true; }
    void enter(const char* name, int index) { sink_.enter(name, index); }
    void leave() { sink_.leave(); }
    bool flag(const char* name, bool value) {
        sink_(name, value);
        return value;
    }
    void leaf(const char* name, bool value) { sink_(name, value); }
    template <class Value>
    requires std::integral<Value> || std::is_enum_v<Value>
    void leaf(const char* name, Value value) { sink_(name, static_cast<std::int64_t>(value)); }
    void leaf(const char* name, double value) { sink_(name, value); }
    void leaf(const char* name, float value) { sink_(name, double{value}); }
    void leaf(const char* name, Time at) { leaf(name, at.time_since_epoch()); }
    void leaf(const char* name, Duration length) { sink_(name, std::int64_t{length.count()}); }
    template <class Id>
    void leaf(const char* name, std::optional<Id> id) {
        sink_(name, std::int64_t{to_number(id)});
    }
    void leaf(const char* name, Buttons buttons) { leaf(name, buttons.bits()); }
    void leaf(const char* name, const Vector3& vector) {
        numbers(name, {{"x", vector.x()}, {"y", vector.y()}, {"z", vector.z()}});
    }
    void leaf(const char* name, const Look& look) {
        numbers(name, {{"yaw", look.yaw}, {"pitch", look.pitch}});
    }
    void leaf(const char* name, const Rotation& rotation) {
        numbers(name, {{"x", rotation.x()}, {"y", rotation.y()}, {"z", rotation.z()}, {"w", rotation.w()}});
    }
    void leaf(const char* name, const IgnoredBodies& bodies) {
        leaf(name, bodies.end() - bodies.begin());
        for (const BodyId body : bodies) {
            leaf(name, body);
        }
    }

  private:
    struct Part {
        const char* name;
        double value;
    };
    void numbers(const char* name, std::initializer_list<Part> parts) {
        sink_.enter(name, -1);
        for (const Part& part : parts) {
            sink_(part.name, part.value);
        }
        sink_.leave();
    }

    Sink& sink_;
};

/// Gives a sink all of one state.
template <class Sink, class State>
void add_fields(Sink& sink, const State& state) {
    FieldNumbers<Sink> numbers{sink};
    FieldWalk walk{numbers};
    visit_fields(walk, state);
}

/// Gives a sink all of a match, or of what was kept of one.
template <class Sink, class AnyMatch>
void add_match(Sink& sink, const AnyMatch& match) {
    FieldNumbers<Sink> numbers{sink};
    numbers.leaf("now", match.now());
    numbers.leaf("over", match.is_over());
    numbers.leaf("rules", match.rules_set());
    for (std::uint8_t team = 0; team < team_count; ++team) {
        const std::int32_t respawns = match.respawns_left(TeamId{team});
        if (match.team_score(TeamId{team}) != 0 || respawns >= 0) {
            sink.enter("team", team);
            numbers.leaf("score", match.team_score(TeamId{team}));
            numbers.leaf("respawns", respawns);
            sink.leave();
        }
    }
    for (const Combatant& who : match.combatants()) {
        sink.enter("combatant", static_cast<std::int64_t>(who.id));
        add_fields(sink, who);
        numbers.leaf("alert", match.is_alert(who.id));
        sink.leave();
    }
    const auto add_all = [&sink](const char* name, const auto& states) {
        std::int64_t index = 0;
        for (const auto& state : states) {
            sink.enter(name, index++);
            add_fields(sink, state);
            sink.leave();
        }
    };
    add_all("hazard", match.hazards());
    add_all("pickup", match.pickups());
    add_all("dropped", match.dropped());
}

/// Gives a sink all of a skirmish, or of what was kept of one, but its match.
template <class Sink, class AnyFight>
void add_fighters(Sink& sink, const AnyFight& skirmish) {
    FieldNumbers<Sink> numbers{sink};
    for (const Fighter& fighter : skirmish.fighters()) {
        sink.enter("fighter", static_cast<std::int64_t>(fighter.id));
        add_fields(sink, fighter);
        sink.leave();
    }
    for (std::size_t pool = 0; pool < skirmish.projectiles().size(); ++pool) {
        sink.enter("projectiles", static_cast<std::int64_t>(pool));
        numbers.leaf("flying", skirmish.projectiles()[pool].size());
        numbers.leaf("states", skirmish.projectiles()[pool].state_hash());
        sink.leave();
    }
}

/// Gives a sink all of a skirmish, or of what was kept of one.
template <class Sink, class AnyFight>
void add_skirmish(Sink& sink, const AnyFight& skirmish) {
    sink("tick", std::int64_t{skirmish.tick()});
    sink.enter("match", -1);
    add_match(sink, skirmish.match());
    sink.leave();
    add_fighters(sink, skirmish);
}

/// Makes one number of it all. Flags share words.
class FieldHashing {
  public:
    void operator()(std::string_view, bool value) {
        flags_ = flags_ << 1U | std::uint64_t{value};
        if (++flag_count_ == 32) {
            add_flags();
        }
    }
    void operator()(std::string_view, std::int64_t value) { add(static_cast<std::uint64_t>(value)); }
    void operator()(std::string_view, double value) { add(std::bit_cast<std::uint64_t>(value)); }
    void enter(std::string_view, std::int64_t number) {
        if (number >= 0) {
            add(static_cast<std::uint64_t>(number));
        }
    }
    void leave() {}

    /// Returns the hash of all so far.
    StateHash hash() {
        add_flags();
        return hash_;
    }

  private:
    void add(std::uint64_t word) {
        if (flag_count_ > 0) {
            add_flags();
        }
        hash_.add(word);
    }
    void add_flags() {
        hash_.add(flags_ << 8U | flag_count_);
        flags_ = 0;
        flag_count_ = 0;
    }

    StateHash hash_{};
    std::uint64_t flags_ = 0;
    std::uint64_t flag_count_ = 0;
};

/// Returns the hash of a match, or of what was kept of one.
template <class AnyMatch>
std::uint64_t hash_of_match(const AnyMatch& match, const MatchState& state) {
    FieldHashing hashing;
    add_match(hashing, match);
    StateHash hash = hashing.hash();
    for (const std::uint64_t word : state.alerts.words()) {
        hash.add(word);
    }
    for (const std::int32_t used : state.team_respawns) {
        hash.add(static_cast<std::uint64_t>(used));
    }
    return hash.value();
}

/// Returns the hash of a skirmish, or of what was kept of one, without the game's own state.
template <class AnyFight>
std::uint64_t hash_of_fight(const AnyFight& fight) {
    FieldHashing hashing;
    add_fighters(hashing, fight);
    StateHash hash = hashing.hash();
    hash.add(static_cast<std::uint64_t>(fight.tick()));
    hash.add(fight.match().state_hash());
    return hash.value();
}

} // namespace avrek::detail
