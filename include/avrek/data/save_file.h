#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/core/diagnostics.h>
#include <avrek/skirmish/combatant.h>

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

/// Saves what combatants keep from one level to the next: lives, weapons and ammunition. The JSON file
/// survives a crash while it is written.
namespace avrek {

/// A saved weapon.
struct SavedWeapon {
    std::string id{};
    std::int32_t rounds = 0; ///< in magazine and chamber
    std::uint8_t mode = 0;   ///< index into WeaponSpec::modes
    friend bool operator==(const SavedWeapon&, const SavedWeapon&) = default;
};

/// Saved rounds of an ammunition type.
struct SavedAmmo {
    std::string id{};
    std::int32_t rounds = 0;
    friend bool operator==(const SavedAmmo&, const SavedAmmo&) = default;
};

/// A saved combatant. Ids are the arsenal's, so the arsenal can change in between.
struct SavedCombatant {
    std::string name{};      ///< the game's own name
    std::int32_t lives = -1; ///< -1: not counted
    double health = 0.0;     ///< at least 0; 0: full
    std::vector<SavedWeapon> weapons{};
    std::int32_t in_hand = -1; ///< index in `weapons`; -1: none
    std::vector<SavedAmmo> ammo{};
    friend bool operator==(const SavedCombatant&, const SavedCombatant&) = default;
};

/// A save.
struct Save {
    std::string level{}; ///< the game's own name
    std::vector<SavedCombatant> combatants{};
    friend bool operator==(const Save&, const Save&) = default;
};

/// Returns what `who` keeps. Health is full for the dead.
SavedCombatant kept_of(const Arsenal& arsenal, const Combatant& who, std::string name);

/// Restores `kept` to `who`, who has joined a match; lives within the limits of the rules. What the arsenal
/// lacks, or has no room for, is skipped and returned as a warning.
std::vector<Diagnostic> give_back(const Arsenal& arsenal, const LivesSpec& lives, const SavedCombatant& kept,
                                  Combatant& who);

/// Writes `save` to a new file that then replaces `file`. A valid previous file is kept as FILE.previous.
/// Returns the faults, and then nothing has changed; empty on success.
std::vector<Diagnostic> write_save(const std::string& file, const Save& save);

/// Loads a save written by write_save(). If the file is damaged, cut off or missing, it loads a valid
/// previous one, with warnings; else it returns errors.
Loaded<Save> load_save(const std::string& file);

/// Returns the text of a save, and parses it.
std::string save_text(const Save& save);
/// Parses the text of a save.
Loaded<Save> parse_save(std::string_view text, std::string_view name);

} // namespace avrek
