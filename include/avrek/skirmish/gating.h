#pragma once
#include <avrek/arsenal/acts.h>
#include <avrek/weapon/loadout.h>

#include <array>
#include <cstddef>
#include <span>
#include <vector>

/// Applies death, stun and status restrictions to weapon input.
namespace avrek {

/// Returns the intent without forbidden acts. If all acts are forbidden, the hands do nothing; otherwise the
/// weapon refuses what is forbidden, with a reason. Moving, guarding and striking are gated by
/// Match::can_act().
LoadoutIntent gated(LoadoutIntent intent, ActSet forbidden);

/// Forbidden acts and spread factor from a time on.
struct Gate {
    Time from{};
    ActSet forbidden{};
    double spread = 1.0;
};

/// The gates of a span; the first is at its start.
struct Gates {
    static constexpr std::size_t max_gates = 8; ///< beyond these, the last one stays

    std::array<Gate, max_gates> gates{};
    std::size_t count = 0;

    /// Returns the gates in order of time.
    std::span<const Gate> all() const { return std::span{gates}.first(count); }
};

/// Advances a loadout to `until`, with gated intents. `stated` holds the last intent before gating and is
/// updated. Intents are in order of time; those before `loadout.now` count at that time. Precondition
/// (asserted): at least one gate.
void advance_gated(const Arsenal& arsenal, Loadout& loadout, LoadoutIntent& stated, const Gates& gates,
                   Time until, std::span<const LoadoutIntent> intents, std::vector<WeaponEvent>& events);

} // namespace avrek
