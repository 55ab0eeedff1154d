#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/core/diagnostics.h>
#include <avrek/skirmish/combatant.h>

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

/// What combatants keep from one level to the next: lives, weapons and ammunition, in a file of JSON that
/// survives whatever happens while it is written.
namespace avrek {

/// A weapon as it was kept.
struct SavedWeapon {
    std::string id{};
    std::int32_t rounds = 0; ///< in magazine and chamber
    std::uint8_t mode = 0;   ///< index into WeaponSpec::modes
    friend bool operator==(const SavedWeapon&, const SavedWeapon&) = default;
};

/// Rounds of a kind of ammunition.
struct SavedAmmo {
    std::string id{};
    std::int32_t rounds = 0;
    friend bool operator==(const SavedAmmo&, const SavedAmmo&) = default;
};

/// What one combatant keeps. Names are those of the arsenal, so that it may change between.
struct SavedCombatant {
    std::string name{};      ///< of the game's choosing
    std::int32_t lives = -1; ///< -1: not counted
    double health = 0.0;     ///< at least 0; 0: full
    std::vector<SavedWeapon> weapons{};
    std::int32_t in_hand = -1; ///< of `weapons`; -1: none
    std::vector<SavedAmmo> ammo{};
    friend bool operator==(const SavedCombatant&, const SavedCombatant&) = default;
};

/// All that is kept.
struct Save {
    std::string level{}; ///< of the game's choosing
    std::vector<SavedCombatant> combatants{};
    friend bool operator==(const Save&, const Save&) = default;
};

/// What `who` keeps. Of the dead, health is full.
SavedCombatant kept_of(const Arsenal& arsenal, const Combatant& who, std::string name);

/// Gives `who`, who has joined a match, what was kept; lives within the limits of the rules. What the arsenal
/// does not have any more, or has no room for, is left out, and each such thing is a warning that is
/// returned.
std::vector<Diagnostic> give_back(const Arsenal& arsenal, const LivesSpec& lives, const SavedCombatant& kept,
                                  Combatant& who);

/// Writes `save` to `file`: to a new file beside it, which then takes its place. What was there before, if it
/// was sound, stays beside it as FILE.previous. Returns what went wrong, and then nothing has changed; empty
/// when it is done.
std::vector<Diagnostic> write_save(const std::string& file, const Save& save);

/// Reads what write_save() has written. A file that is damaged, cut off or not there is refused; when the one
/// before it is sound that is read instead, and the diagnostics, warnings then, say so.
Loaded<Save> load_save(const std::string& file);

/// The text of a save, and back.
std::string save_text(const Save& save);
Loaded<Save> parse_save(std::string_view text, std::string_view name);

} // namespace avrek
