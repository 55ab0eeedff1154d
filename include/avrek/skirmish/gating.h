#pragma once
#include <avrek/arsenal/acts.h>
#include <avrek/weapon/loadout.h>

#include <array>
#include <cstddef>
#include <span>
#include <vector>

/// What life keeps from hands.
namespace avrek {

/// What is left of an intent when `forbidden` are not allowed. With all of them forbidden the hands do
/// nothing; otherwise the weapon itself refuses what it is kept from, and says why. Moving, guarding and
/// striking are not the weapon's: whoever does these asks for them (Match::may()).
LoadoutIntent gated(LoadoutIntent intent, ActSet forbidden);

/// What somebody may not do from a time on, and what that makes of its cones.
struct Gate {
    Time from{};
    ActSet forbidden{};
    double spread = 1.0;
};

/// The gates of a span, the first at its begin.
struct Gates {
    static constexpr std::size_t max_gates = 8; ///< of more, the last stays

    std::array<Gate, max_gates> gates{};
    std::size_t count = 0;

    std::span<const Gate> all() const { return std::span{gates}.first(count); }
};

/// Moves a loadout to `until`, each intent as the gates leave it; `stated` is the last intent before gating,
/// and is kept up. The intents are in order of time; those before `loadout.now` count at that time.
/// Precondition (asserted): at least one gate.
void advance_gated(const Arsenal& arsenal, Loadout& loadout, LoadoutIntent& stated, const Gates& gates,
                   Time until, std::span<const LoadoutIntent> intents, std::vector<WeaponEvent>& events);

} // namespace avrek
