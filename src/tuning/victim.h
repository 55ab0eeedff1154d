#pragma once
#include "shot_map.h"
#include <avrek/vitals/vitals.h>

#include <array>
#include <cstdint>
#include <map>
#include <vector>

/// The states that a target can be in, and what hits make of them.
namespace avrek::detail {

/// One hit, as it comes to the target.
struct VictimHit {
    Damage damage{};
    const EffectSpec* effect = nullptr;
};

/// Hits of one outcome of a shot.
using VictimBlow = std::vector<VictimHit>;

/// Stands for death.
inline constexpr std::uint32_t dead_state = 0xffffffffU;

/// States are numbered as they are met; 0 is the target unhurt. Where nothing of the target changes by
/// itself, time does not matter, and what a blow makes of a state is looked up once.
class Victim {
  public:
    /// `blows` are all that can come.
    Victim(const Target& target, std::vector<VictimBlow> blows);

    std::uint32_t count() const { return static_cast<std::uint32_t>(states_.size()); }
    double health_share(std::uint32_t state) const;
    /// Health and points of layers together.
    double substance(std::uint32_t state) const { return substance_[state]; }
    bool is_hurt(std::uint32_t state) const { return hurt_[state]; }
    /// Whether anything of the target changes by itself.
    bool changes() const { return changes_; }

    /// Before states pass to a new moment, where the target changes by itself: states of different moments
    /// are never one.
    void begin_moment();

    /// State after time has passed: dead, with the moment, or another state.
    struct Passed {
        std::uint32_t state = 0;
        Time died{};
    };
    Passed pass(std::uint32_t state, Time at);

    /// Returns the state after a blow at `at`, up to which the state has passed.
    std::uint32_t strike(std::uint32_t state, std::uint32_t blow, Time at);

  private:
    using Key = std::array<std::int64_t, 24>;

    std::uint32_t number_of(const Vitals& vitals);
    Key key_of(const Vitals& vitals) const;
    void coarsen();

    const Target& target_;
    std::vector<VictimBlow> blows_;
    bool changes_ = false;
    bool refills_ = false;
    double grain_ = 1e-7; ///< states that differ by less are one
    std::vector<Vitals> states_{};
    std::vector<bool> hurt_{};
    std::vector<double> substance_{};
    std::map<Key, std::uint32_t> numbers_{};
    std::vector<std::uint32_t> struck_{}; ///< by state and blow; unknown: dead_state - 1
    std::vector<VitalsEvent> events_{};
};

} // namespace avrek::detail
