#include <avrek/data/replay_player.h>

#include <zstd.h>

#include <algorithm>
#include <cassert>
#include <utility>

namespace avrek {

struct ReplayPlayer::Playing {
    struct Key {
        std::size_t size = 0; // size of the state
        std::vector<char> packed{};
    };

    ReplayReader reader{};
    ReplayPlayerSettings settings{};
    std::vector<ReplayTick> ticks{};
    TunedArsenal tuned{};
    std::vector<Key> keys{}; // at the start of every key_every-th tick
    std::optional<Skirmish> fight{};
    std::optional<ReplayDeparture> departure{};
    std::vector<std::byte> state{}; // room to work in

    void keep_key() {
        state.resize(fight->saved_size());
        const std::span<std::byte> saved = fight->save(state);
        Key& key = keys.emplace_back();
        key.size = saved.size();
        key.packed.resize(ZSTD_compressBound(saved.size()));
        key.packed.resize(ZSTD_compress(key.packed.data(), key.packed.size(), saved.data(), saved.size(), 1));
        key.packed.shrink_to_fit();
    }

    void go_to_key(std::size_t index) {
        const Key& key = keys[index];
        state.resize(key.size);
        ZSTD_decompress(state.data(), state.size(), key.packed.data(), key.packed.size());
        [[maybe_unused]] const Outcome restored = fight->restore(state);
        assert(restored);
    }

    void compare(const ReplayTick& tick) {
        if (!tick.hash || departure) {
            return;
        }
        if (*tick.hash != fight->fight_hash()) {
            departure.emplace();
            departure->tick = fight->tick() - 1;
            departure->last_same = last_same;
            departure->part = first_difference(*fight, tick.parts);
        } else {
            last_same = fight->tick() - 1;
        }
    }

    // Plays all that the file has, for the first time.
    std::vector<Diagnostic> play_through(const std::function<bool(Tick)>& goes_on) {
        std::vector<Diagnostic> faults;
        bool stops = false;
        keep_key();
        while (const auto chunk = stops ? std::nullopt : reader.next(faults)) {
            for (const ReplayTick& recorded : chunk->ticks) {
                ReplayTick& tick = ticks.emplace_back(recorded);
                for (Diagnostic& fault : make_arsenals(tick, tuned)) {
                    faults.push_back(std::move(fault));
                }
                for (Diagnostic& fault : avrek::play(tick, *fight)) {
                    fault.severity = Severity::warning;
                    faults.push_back(std::move(fault));
                }
                compare(tick);
                if (static_cast<Tick>(ticks.size()) % settings.key_every == 0) {
                    keep_key();
                }
                stops = goes_on && !goes_on(static_cast<Tick>(ticks.size()));
                if (stops) {
                    break;
                }
            }
        }
        for (Diagnostic& fault : faults) {
            fault.severity = Severity::warning; // what came before can be played
        }
        return faults;
    }

    Tick last_same = -1;
};

ReplayPlayer::ReplayPlayer() = default;
ReplayPlayer::~ReplayPlayer() = default;
ReplayPlayer::ReplayPlayer(ReplayPlayer&&) noexcept = default;
ReplayPlayer& ReplayPlayer::operator=(ReplayPlayer&&) noexcept = default;

std::vector<Diagnostic> ReplayPlayer::open(const std::string& file, const GameData& data,
                                           const Locomotions& locomotions, CompanionState* companion,
                                           const ReplayPlayerSettings& settings,
                                           const std::function<bool(Tick)>& goes_on) {
    assert(settings.key_every >= 1);
    auto opened = std::make_unique<Playing>();
    opened->settings = settings;
    std::vector<Diagnostic> faults = opened->reader.open(file);
    if (!faults.empty()) {
        return faults;
    }
    const ReplayHead& head = opened->reader.head();
    auto allowed =
        settings_for(head, data.arsenal, data.digest, data.arena.level, file, locomotions, settings.poses);
    if (!allowed) {
        return std::move(allowed.diagnostics);
    }
    opened->fight.emplace(data.arsenal, data.arena.level, *allowed, head.seed, data.arena.plan);
    opened->tuned = TunedArsenal{data.texts};
    opened->fight->set_companion(companion);
    faults = opened->play_through(goes_on);
    playing_ = std::move(opened);
    seek(0);
    return faults;
}

Tick ReplayPlayer::length() const {
    assert(playing_);
    return static_cast<Tick>(playing_->ticks.size());
}

Tick ReplayPlayer::tick() const {
    assert(playing_);
    return playing_->fight->tick();
}

void ReplayPlayer::seek(Tick tick) {
    assert(playing_);
    const Tick wanted = std::clamp<Tick>(tick, 0, length());
    const Tick every = playing_->settings.key_every;
    const bool is_near = this->tick() <= wanted && wanted - this->tick() < every;
    if (!is_near) {
        playing_->go_to_key(static_cast<std::size_t>(wanted / every));
    }
    while (this->tick() < wanted) {
        play();
    }
}

std::span<const Event> ReplayPlayer::play() {
    assert(playing_ && tick() < length());
    (void)avrek::play(playing_->ticks[static_cast<std::size_t>(tick())], *playing_->fight);
    return playing_->fight->events();
}

const Skirmish& ReplayPlayer::fight() const {
    assert(playing_);
    return *playing_->fight;
}

const std::optional<ReplayDeparture>& ReplayPlayer::departure() const {
    assert(playing_);
    return playing_->departure;
}

std::size_t ReplayPlayer::key_bytes() const {
    assert(playing_);
    std::size_t bytes = 0;
    for (const Playing::Key& key : playing_->keys) {
        bytes += key.packed.size();
    }
    return bytes;
}

} // namespace avrek
