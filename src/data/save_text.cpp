#include "faults.h"
#include <avrek/data/save_file.h>

#include <nlohmann/json.hpp>
#define XXH_INLINE_ALL
#include <xxhash.h>

#include <cmath>
#include <limits>

namespace avrek {

namespace {

using Json = nlohmann::ordered_json;

constexpr int version = 1;
constexpr std::size_t max_saved = 1024;
constexpr std::size_t max_text = 256;

std::string digest_of(const Json& content) {
    const std::string text = content.dump();
    std::string digits;
    std::uint64_t hash = XXH3_64bits(text.data(), text.size());
    for (int digit = 0; digit < 16; ++digit, hash <<= 4U) {
        digits += "0123456789abcdef"[hash >> 60U];
    }
    return digits;
}

Json json_of(const Save& save) {
    Json combatants = Json::array();
    for (const SavedCombatant& who : save.combatants) {
        Json weapons = Json::array();
        for (const SavedWeapon& weapon : who.weapons) {
            weapons.push_back({{"id", weapon.id}, {"rounds", weapon.rounds}, {"mode", weapon.mode}});
        }
        Json ammo = Json::array();
        for (const SavedAmmo& kind : who.ammo) {
            ammo.push_back({{"id", kind.id}, {"rounds", kind.rounds}});
        }
        combatants.push_back({{"name", who.name},
                              {"lives", who.lives},
                              {"health", who.health},
                              {"weapons", weapons},
                              {"in_hand", who.in_hand},
                              {"ammo", ammo}});
    }
    return {{"level", save.level}, {"combatants", combatants}};
}

// Reads values, and remembers the first that is not as it should be.
class SaveReading {
  public:
    bool is_sound() const { return fault_.message.empty(); }
    detail::Fault fault() { return fault_; }

    void refuse(const std::string& where, const std::string& message, const std::string& allowed) {
        if (is_sound()) {
            fault_ = {where, message, allowed, {}};
        }
    }

    const Json* value(const Json& object, const std::string& where, const char* key) {
        const auto found = object.is_object() ? object.find(key) : object.end();
        if (!object.is_object() || found == object.end()) {
            refuse(where + '.' + key, "is missing", "a value");
            return nullptr;
        }
        return &*found;
    }

    std::string text(const Json& object, const std::string& where, const char* key) {
        const Json* found = value(object, where, key);
        const auto* text = found != nullptr ? found->get_ptr<const std::string*>() : nullptr;
        if (text == nullptr || text->size() > max_text) {
            refuse(where + '.' + key, "is no text", "at most 256 characters in quotes");
            return {};
        }
        return *text;
    }

    std::int32_t integer(const Json& object, const std::string& where, const char* key, std::int32_t least,
                         std::int32_t most) {
        const Json* found = value(object, where, key);
        const bool whole = found != nullptr && found->is_number_integer();
        const double number = whole ? found->get<double>() : 0.0;
        if (!whole || number < least || number > most) {
            refuse(where + '.' + key, "is no such number",
                   "a whole number from " + std::to_string(least) + " to " + std::to_string(most));
            return least;
        }
        return static_cast<std::int32_t>(number);
    }

    double number(const Json& object, const std::string& where, const char* key) {
        const Json* found = value(object, where, key);
        const double number = found != nullptr && found->is_number() ? found->get<double>() : -1.0;
        if (!(number >= 0.0) || !std::isfinite(number)) {
            refuse(where + '.' + key, "is no such number", "at least 0");
            return 0.0;
        }
        return number;
    }

    // The entries of a list, each with its place.
    template <class Each>
    void list(const Json& object, const std::string& where, const char* key, std::size_t most,
              const Each& each) {
        const Json* found = value(object, where, key);
        if (found == nullptr || !found->is_array() || found->size() > most) {
            refuse(where + '.' + key, "is no list", "a list of at most " + std::to_string(most));
            return;
        }
        for (std::size_t index = 0; index < found->size() && is_sound(); ++index) {
            each((*found)[index], where + '.' + key + '[' + std::to_string(index) + ']');
        }
    }

  private:
    detail::Fault fault_;
};

SavedCombatant read_combatant(SaveReading& reader, const Json& entry, const std::string& where) {
    constexpr std::int32_t max_rounds = std::numeric_limits<std::int32_t>::max();
    SavedCombatant who;
    who.name = reader.text(entry, where, "name");
    who.lives = reader.integer(entry, where, "lives", -1, 1'000'000);
    who.health = reader.number(entry, where, "health");
    reader.list(
        entry, where, "weapons", Loadout::slot_count, [&](const Json& weapon, const std::string& place) {
            who.weapons.push_back({reader.text(weapon, place, "id"),
                                   reader.integer(weapon, place, "rounds", 0, max_rounds),
                                   static_cast<std::uint8_t>(reader.integer(weapon, place, "mode", 0, 7))});
        });
    who.in_hand = reader.integer(entry, where, "in_hand", -1, Loadout::slot_count - 1);
    reader.list(entry, where, "ammo", max_ammo_kinds, [&](const Json& kind, const std::string& place) {
        who.ammo.push_back(
            {reader.text(kind, place, "id"), reader.integer(kind, place, "rounds", 0, max_rounds)});
    });
    return who;
}

} // namespace

std::string save_text(const Save& save) {
    const Json content = json_of(save);
    const Json file{{"avrek_save", version}, {"digest", digest_of(content)}, {"content", content}};
    return file.dump(1) + '\n';
}

Loaded<Save> parse_save(std::string_view text, std::string_view name) {
    const Json file = Json::parse(text, nullptr, false);
    SaveReading reader;
    Save save;
    if (file.is_discarded() || !file.is_object()) {
        reader.refuse({}, "is damaged: it is not JSON, or cut off", "a save as it was written");
    } else if (reader.integer(file, "save", "avrek_save", 1, version); reader.is_sound()) {
        const std::string digest = reader.text(file, "save", "digest");
        const Json* content = reader.value(file, "save", "content");
        if (content != nullptr && digest_of(*content) != digest) {
            reader.refuse("save.digest", "does not fit the content: the file is damaged",
                          "a save as it was written");
        }
        if (reader.is_sound()) {
            save.level = reader.text(*content, "content", "level");
            reader.list(*content, "content", "combatants", max_saved,
                        [&](const Json& entry, const std::string& where) {
                            save.combatants.push_back(read_combatant(reader, entry, where));
                        });
        }
    }
    detail::Faults faults;
    if (!reader.is_sound()) {
        faults.add(name, {0, 0}, reader.fault());
        return {std::nullopt, faults.take()};
    }
    return {std::move(save), {}};
}

} // namespace avrek
