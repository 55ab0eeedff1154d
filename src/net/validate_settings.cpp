#include "../core/setting_faults.h"
#include <avrek/net/client.h>
#include <avrek/net/server.h>

#include <algorithm>
#include <string>
#include <utility>

namespace avrek {

namespace {

void check_span(detail::SettingFaults& faults, const std::string& where, Duration span, Duration most) {
    faults.unless(span >= Duration::zero() && span <= most, where, std::to_string(span.count()) + " ns",
                  "0 to " + std::to_string(most / std::chrono::milliseconds{1}) + " ms");
}

bool is_zero(const PublicKey& key) {
    return key == PublicKey{};
}

void check_slot(detail::SettingFaults& faults, const GameData& data, const std::vector<PlayerSlot>& slots,
                std::size_t index) {
    const PlayerSlot& slot = slots[index];
    const std::string where = "slots[" + std::to_string(index) + "].";
    const bool twice = slot.player != nobody &&
                       std::any_of(slots.begin(), slots.begin() + static_cast<std::ptrdiff_t>(index),
                                   [&](const PlayerSlot& other) { return other.player == slot.player; });
    faults.unless(slot.player != nobody, where + "player", "nobody", "a player");
    faults.unless(!twice, where + "player", "in an earlier slot too", "each player once");
    faults.range<std::size_t>(where + "team", static_cast<std::size_t>(slot.team), 0, team_count - 1);
    faults.id(where + "body", slot.body, data.arsenal.bodies);
    if (slot.melee) {
        faults.id(where + "melee", *slot.melee, data.arsenal.melee);
    }
    faults.range<std::size_t>(where + "weapons.size()", slot.weapons.size(), 0, Loadout::slot_count);
    for (const WeaponId weapon : slot.weapons) {
        faults.id(where + "weapons", weapon, data.arsenal.weapons);
    }
    faults.range<std::size_t>(where + "spawns.size()", slot.spawns.size(), 0, Fighter::max_spawns);
    for (const std::uint16_t spawn : slot.spawns) {
        faults.unless(spawn < data.arena.plan.spawns.size(), where + "spawns", std::to_string(spawn),
                      "a spawn point of the plan, which has " +
                          std::to_string(data.arena.plan.spawns.size()));
    }
}

} // namespace

std::vector<Diagnostic> validate(const GameData& data, const ServerSettings& settings) {
    detail::SettingFaults faults;
    faults.all = validate(data.arsenal, settings.skirmish, data.arena.plan);
    for (Diagnostic& fault : faults.all) {
        fault.where.insert(0, "skirmish.");
    }
    faults.unless(!is_zero(settings.issuer), "issuer", "no key", "a key of make_keys()");
    faults.range("limits.packets", settings.limits.packets, 1, 1 << 30);
    faults.range("limits.faults", settings.limits.faults, 1, 1 << 30);
    faults.range<std::size_t>("limits.connecting", settings.limits.connecting, 1, 65535);
    check_span(faults, "interest.ahead", settings.interest.ahead, std::chrono::seconds{1});
    check_span(faults, "interest.lingers", settings.interest.lingers, std::chrono::seconds{10});
    const auto check_hearing = [&faults](const char* where, Metres far) {
        faults.unless(far >= 0.0 && far <= 1000.0, where, std::to_string(far) + " m", "0 to 1000 m");
    };
    check_hearing("interest.hears_shots", settings.interest.hears_shots);
    check_hearing("interest.hears_steps", settings.interest.hears_steps);
    check_hearing("interest.hears_explosions", settings.interest.hears_explosions);
    faults.range("budget", settings.budget, 2'000, 1'000'000);
    faults.unless(settings.slots.size() <= settings.skirmish.limits.combatants, "slots.size()",
                  std::to_string(settings.slots.size()),
                  "at most skirmish.limits.combatants, " +
                      std::to_string(settings.skirmish.limits.combatants));
    for (std::size_t index = 0; index < settings.slots.size(); ++index) {
        check_slot(faults, data, settings.slots, index);
    }
    return std::move(faults.all);
}

std::vector<Diagnostic> validate(const ClientSettings& settings) {
    detail::SettingFaults faults;
    faults.range("send_every", settings.send_every, 1, 8);
    faults.range("repeats", settings.repeats, 0, 8);
    check_span(faults, "interpolation", settings.interpolation, std::chrono::seconds{1});
    for (std::size_t index = 0; index < settings.locomotions.size(); ++index) {
        faults.unless(settings.locomotions[index] != nullptr, "locomotions[" + std::to_string(index) + ']',
                      "null", "a locomotion");
    }
    return std::move(faults.all);
}

} // namespace avrek
