#pragma once
#include "body_moving.h"
#include "game_actions.h"
#include "shot_resolution.h"

#include <memory>
#include <span>
#include <vector>

namespace avrek {

/// A fight, its collaborators, and the steps of a tick.
struct Skirmish::Impl {
    Impl(const Arsenal& arsenal, Level level, const SkirmishSettings& settings, std::uint64_t seed,
         LevelPlan plan);
    Impl(const Impl& other);
    Impl& operator=(const Impl&) = delete;

    detail::Fight fight;
    detail::LagCompensation lag{fight};
    detail::BodyMoving bodies{fight};
    detail::WeaponPlanning planning{fight};
    detail::Consequences consequences{fight, planning};
    detail::ShotResolution shots{fight, planning, lag, consequences};
    detail::Roster roster{fight, bodies};
    detail::GameActions actions{fight, planning, consequences, roster, shots};

    /// An arsenal that the fight goes by, or has gone by.
    struct Tuning {
        std::uint64_t kind = 0; ///< kind of the states with it
        std::shared_ptr<const Arsenal> arsenal{};
        std::uint64_t given = 0; ///< hash of the arsenal as it was handed in
    };

    CompanionState* companion = nullptr;
    std::vector<Tuning> tunings{};   // the first one is the caller's
    std::uint64_t fight_kind = 0;    // without the arsenal
    std::uint64_t kind = 0;          // distinguishes skirmishes with incompatible states
    std::size_t event_count = 0;     // events of the last tick; what follows belongs to the next
    std::vector<std::size_t> most{}; // peaks, for high_water()

    void advance(std::span<const Intent> intents, std::span<const BodyUpdate> updates,
                 std::span<const GameAction> actions);
    void begin_tick();
    void report_sightings();
    void place_respawned();
    void resolve_actions();
    void do_action(const detail::QueuedAction& action);
    void do_press(std::size_t index, Time at);
    void end_tick();
    /// Sets the moment between two ticks, at which the game acts.
    void stand_between_ticks();
    /// Takes an arsenal into the list, its entries at the places that they have in `before`. Says why it
    /// cannot.
    Outcome take_in(const Arsenal& before, std::shared_ptr<const Arsenal> arsenal, const Tuning*& taken);
    const Tuning* find_tuning(std::uint64_t wanted) const;
    std::uint64_t kind_with(const Arsenal& arsenal) const;
    /// Goes by another arsenal: everything but the match and the swings.
    void use(const Tuning& tuning);
    /// Takes the swings under way over from `was`.
    void retune_swings(const Arsenal& was);
    std::size_t write(std::span<std::byte> room) const; // returns the size that it needs
};

} // namespace avrek
