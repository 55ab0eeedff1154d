#pragma once
#include "../test_data.h"
#include <avrek/data/game_data.h>

#include <nlohmann/json.hpp>
#include <session/session.h>

// Shared by the tests of the playground.
namespace avrek::playground {

inline constexpr Duration tick = std::chrono::nanoseconds{15'625'000};

inline std::shared_ptr<const GameData> demo() {
    static const auto data = std::make_shared<const GameData>(
        *load_game_data({AVREK_SOURCE_DIR "/data/halm-ring.toml"}, AVREK_SOURCE_DIR "/data/atrium.toml"));
    return data;
}

inline void play(Session& session, int ticks) {
    for (int index = 0; index < ticks; ++index) {
        session.advance(tick);
    }
}

inline nlohmann::json report_of(const Session& session) {
    return nlohmann::json::parse(session.report());
}

} // namespace avrek::playground
