#include <avrek/data/arsenal_toml.h>
#include <avrek/data/save_file.h>

#include <fcntl.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <filesystem>

namespace avrek {

namespace {

std::filesystem::path beside(const std::filesystem::path& file, const char* ending) {
    std::filesystem::path other = file;
    return other += ending;
}

Diagnostic fault(const std::filesystem::path& file, const std::string& what, int error) {
    return {Severity::error, file.string(), 0, 0, {}, what + ": " + std::strerror(error), {}, {}};
}

// Whether all of `text` is on the disk as `file`; errno says why not.
bool write_whole(const std::filesystem::path& file, const std::string& text) {
    const int handle = ::open(file.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0644);
    if (handle < 0) {
        return false;
    }
    std::size_t written = 0;
    while (written < text.size()) {
        const ::ssize_t step = ::write(handle, text.data() + written, text.size() - written);
        if (step < 0 && errno != EINTR) {
            break;
        }
        written += static_cast<std::size_t>(std::max<::ssize_t>(0, step));
    }
    bool done = written == text.size() && ::fsync(handle) == 0;
    const int error = errno;
    done = ::close(handle) == 0 && done;
    errno = done ? 0 : error;
    return done;
}

Loaded<Save> load_one(const std::filesystem::path& file) {
    Loaded<ArsenalText> text = read_arsenal_text(file);
    if (!text) {
        text.diagnostics.front().allowed = "a save";
        return {std::nullopt, std::move(text.diagnostics)};
    }
    return parse_save(text->text, file.string());
}

Diagnostic left_out(const std::string& where, const std::string& what) {
    return {Severity::warning, {}, 0, 0, where, what, {}, {}};
}

} // namespace

std::vector<Diagnostic> write_save(const std::string& file, const Save& save) {
    const std::filesystem::path fresh = beside(file, ".new");
    const std::filesystem::path previous = beside(file, ".previous");
    if (!write_whole(fresh, save_text(save))) {
        const int error = errno;
        ::unlink(fresh.c_str());
        return {fault(file, "cannot be written", error)};
    }
    // A damaged file must not replace the last sound one.
    if (load_one(file) && ::rename(file.c_str(), previous.c_str()) != 0) {
        const int error = errno;
        ::unlink(fresh.c_str());
        return {fault(file, "cannot be moved to " + previous.string(), error)};
    }
    if (::rename(fresh.c_str(), file.c_str()) != 0) {
        const int error = errno;
        ::unlink(fresh.c_str());
        ::rename(previous.c_str(), file.c_str());
        return {fault(file, "cannot be replaced", error)};
    }
    return {};
}

Loaded<Save> load_save(const std::string& file) {
    Loaded<Save> save = load_one(file);
    if (save) {
        return save;
    }
    const std::filesystem::path previous = beside(file, ".previous");
    Loaded<Save> before = load_one(previous);
    if (!before) {
        return save;
    }
    before.diagnostics = std::move(save.diagnostics);
    for (Diagnostic& diagnostic : before.diagnostics) {
        diagnostic.severity = Severity::warning;
        diagnostic.message += "; the one before it was read, " + previous.string();
    }
    return before;
}

SavedCombatant kept_of(const Arsenal& arsenal, const Combatant& who, std::string name) {
    SavedCombatant kept;
    kept.name = std::move(name);
    kept.lives = who.lives;
    kept.health = who.vitals.life == LifeState::dead ? 0.0 : who.vitals.health;
    for (std::int32_t slot = 0; slot < Loadout::slot_count; ++slot) {
        const WeaponSpec* weapon = weapon_in(arsenal, who.loadout, slot);
        if (weapon != nullptr) {
            if (who.loadout.in_hand == slot) {
                kept.in_hand = static_cast<std::int32_t>(kept.weapons.size());
            }
            const WeaponState& state = *state_in(who.loadout, slot);
            kept.weapons.push_back({weapon->id, std::max(0, state.rounds), state.mode});
        }
    }
    for (std::size_t kind = 0; kind < arsenal.ammo.size(); ++kind) {
        if (who.loadout.ammo[kind].rounds > 0) {
            kept.ammo.push_back({arsenal.ammo[kind].id, who.loadout.ammo[kind].rounds});
        }
    }
    return kept;
}

std::vector<Diagnostic> give_back(const Arsenal& arsenal, const LivesSpec& lives, const SavedCombatant& kept,
                                  Combatant& who) {
    std::vector<Diagnostic> warnings;
    std::vector<WeaponId> weapons;
    std::vector<const SavedWeapon*> sources;
    std::size_t in_hand = 0;
    for (std::size_t index = 0; index < kept.weapons.size(); ++index) {
        const SavedWeapon& weapon = kept.weapons[index];
        const auto id = arsenal.weapon(weapon.id);
        if (!id) {
            warnings.push_back(
                left_out(kept.name + ".weapons", "the arsenal has no weapon '" + weapon.id + "'"));
        } else if (weapons.size() < Loadout::slot_count) {
            in_hand = static_cast<std::int64_t>(index) == kept.in_hand ? weapons.size() : in_hand;
            weapons.push_back(*id);
            sources.push_back(&weapon);
        }
    }
    // The weapon in hand comes first, as make_loadout() has it.
    if (in_hand > 0) {
        std::rotate(weapons.begin(), weapons.begin() + static_cast<std::ptrdiff_t>(in_hand), weapons.end());
        std::rotate(sources.begin(), sources.begin() + static_cast<std::ptrdiff_t>(in_hand), sources.end());
    }
    who.loadout = make_loadout(arsenal, weapons, who.loadout.now, static_cast<std::uint32_t>(who.id));
    who.kit_size = weapons.size();
    std::copy(weapons.begin(), weapons.end(), who.kit.begin());
    for (std::size_t slot = 0; slot < weapons.size(); ++slot) {
        const WeaponSpec& spec = arsenal[weapons[slot]];
        WeaponState& state = who.loadout.slots[slot].state;
        state.rounds = std::min(sources[slot]->rounds, capacity(spec, full_weapon(spec)));
        state.mode = sources[slot]->mode < spec.modes.size() ? sources[slot]->mode : std::uint8_t{0};
    }
    who.loadout.ammo = {};
    for (const SavedAmmo& ammo : kept.ammo) {
        const auto type = arsenal.ammo_type(ammo.id);
        const std::int32_t over = type ? add_ammo(arsenal, who.loadout, *type, ammo.rounds) : ammo.rounds;
        if (over > 0) {
            warnings.push_back(left_out(kept.name + ".ammo",
                                        std::to_string(over) + " rounds of '" + ammo.id + "' are left out"));
        }
    }
    if (who.lives >= 0 && kept.lives >= 0) {
        who.lives = std::clamp(kept.lives, lives.min, lives.max);
    }
    who.vitals.health = kept.health > 0.0 ? std::min(kept.health, who.vitals.maximum) : who.vitals.maximum;
    return warnings;
}

} // namespace avrek
