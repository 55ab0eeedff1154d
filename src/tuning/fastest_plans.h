#pragma once
#include "shot_steps.h"
#include <avrek/tuning/time_to_kill.h>

#include <cstddef>
#include <functional>
#include <optional>
#include <vector>

namespace avrek::detail {

/// The shots of one plan, and how it differs from holding the trigger down.
struct FastestPlan {
    std::vector<ShotStep> steps{};
    ShotCourse course{};
    IdealPlan summary{};
};

/// For each number of shots the plan with which the last of them leaves as early as it can, from a full
/// weapon in its first mode, with trigger and reload alone.
///
/// A search from shot to shot. Looked at are: firing at once; whole reloads, and those that the trigger cuts,
/// at the last moment and, where they fill up round by round, at any; waiting until heat or cell allow for
/// one more shot, for two, and so on. Of two ways to fire the same number of shots the one that is later and
/// has nothing more is dropped.
class FastestPlans {
  public:
    explicit FastestPlans(const WeaponSpec& weapon);

    /// Returns false if so many shots cannot be fired.
    bool reaches(std::size_t shots);
    /// When the last of them leaves, after the first pull. Precondition (asserted): reaches(shots).
    Duration time_of(std::size_t shots) const;
    FastestPlan plan(std::size_t shots) const;

  private:
    struct Label {
        WeaponMoment moment{};
        std::size_t from = 0; ///< index in the layer before
        ShotStep step{};
    };
    using CollisionLayer = std::vector<Label>;

    void add_layer();
    void try_step(const Label& label, std::size_t from, const ShotStep& step, CollisionLayer& next);
    std::size_t first_of(const CollisionLayer& layer) const;

    const WeaponSpec weapon_;
    std::vector<CollisionLayer> layers_; ///< [n]: after n shots
    std::size_t steps_tried_ = 0;
    std::vector<WeaponEvent> events_{};
    std::vector<WeaponIntent> statements_{};
};

/// Returns the steps from one shot to the next that can be worth taking; firing at once, or reloading, comes
/// first.
std::vector<ShotStep> steps_from(const WeaponSpec& weapon, const WeaponMoment& moment);

/// Whether, of two moments after the same number of shots, `one` has nothing that `other` lacks.
bool has_no_more(const WeaponSpec& weapon, const WeaponMoment& one, const WeaponMoment& other);

/// Makes each pause as short as it can be with `ends_at` no later than now.
void shorten_pauses(std::vector<ShotStep>& steps, const std::function<std::optional<Time>()>& ends_at);

/// A plan's times and what is special about it, found by doing its steps.
FastestPlan plan_of_steps(const WeaponSpec& weapon, std::vector<ShotStep> steps);

/// Returns the statements of a shooter who takes these steps.
std::vector<WeaponIntent> statements_of(const WeaponSpec& weapon, const std::vector<ShotStep>& steps);

} // namespace avrek::detail
