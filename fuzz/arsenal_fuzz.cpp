// Any bytes, as one arsenal file or as a base and an overlay, as timed intents and as actions: an answer,
// never a crash, and a value only without errors.
#include <avrek/data/actions_toml.h>
#include <avrek/data/arsenal_toml.h>
#include <avrek/data/intents_toml.h>
#include <avrek/tuning/time_to_kill.h>

#include <array>
#include <cstddef>
#include <cstdint>
#include <cstdlib>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* bytes, std::size_t size) {
    const std::string_view text{reinterpret_cast<const char*>(bytes), size};
    const std::size_t cut = text.find('\x1c'); // the file separator of ASCII
    const std::string_view base = text.substr(0, cut);
    const std::string_view overlay = cut == std::string_view::npos ? "" : text.substr(cut + 1);
    const std::array<avrek::ArsenalText, 2> texts{
        {{"base", std::string{base}}, {"overlay", std::string{overlay}}}};
    const avrek::Loaded<avrek::Arsenal> arsenal = avrek::parse_arsenal(texts);
    bool errors = false;
    for (const avrek::Diagnostic& fault : arsenal.diagnostics) {
        errors |= fault.severity == avrek::Severity::error;
        if (to_string(fault).empty()) {
            std::abort();
        }
    }
    if (errors == static_cast<bool>(arsenal)) {
        std::abort();
    }
    avrek::parse_intents(base, "intents");
    if (arsenal) {
        const auto actions = avrek::parse_actions(overlay, "actions", *arsenal);
        for (const avrek::GameAction& action : actions ? *actions : std::vector<avrek::GameAction>{}) {
            if (!validate(*arsenal, action)) {
                std::abort();
            }
        }
        for (const avrek::WeaponSpec& weapon : arsenal->weapons) {
            for (const avrek::BodySpec& body : arsenal->bodies) {
                if (weapon.damage * 100.0 > body.health) { // more shots take time and tell nothing new
                    ideal_time_to_kill(weapon,
                                       avrek::Target{.body = &body, .conditions = arsenal->conditions}, 10.0,
                                       avrek::RegionId{0});
                }
            }
        }
    }
    return 0;
}
