#pragma once
#include <avrek/data/game_data.h>
#include <avrek/data/replay_file.h>

#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace avrek {

/// How a replay is played.
struct ReplayPlayerSettings {
    std::int32_t key_every = 64; ///< ticks between key states, at least 1; a seek plays fewer ticks than that
    const PoseSource* poses = nullptr; ///< the one that it was recorded with; null: BlendedPoses
};

/// A replay in memory, for going to any tick. Opening it plays it once, and keeps compressed key states on
/// the way; they are never taken from the file, which anybody could have made.
///
///     ReplayPlayer player;
///     const auto faults = player.open("fight.replay", data, {&runner});
///     player.seek(12'000);
///     while (player.tick() < player.length()) { draw(player.fight(), player.play()); }
class ReplayPlayer {
  public:
    ReplayPlayer();
    ~ReplayPlayer();
    ReplayPlayer(ReplayPlayer&&) noexcept;
    ReplayPlayer& operator=(ReplayPlayer&&) noexcept;

    /// Opens a file with the data and the locomotions that it was recorded with; both must outlive the
    /// player. Returns what is wrong: nothing can be played after errors. A file that is cut off is played as
    /// far as it goes, with a warning. `goes_on` is called after each tick; it returns false to stop there.
    std::vector<Diagnostic> open(const std::string& file, const GameData& data,
                                 const Locomotions& locomotions = {}, CompanionState* companion = nullptr,
                                 const ReplayPlayerSettings& settings = {},
                                 const std::function<bool(Tick)>& goes_on = {});

    /// Returns the number of ticks. Precondition of this and all below (asserted): open() had no errors.
    Tick length() const;
    /// Returns the next tick to play.
    Tick tick() const;
    /// Goes to the start of a tick; beyond the end, to the end. The companion goes with it.
    void seek(Tick tick);
    /// Plays one tick. Returns its events; valid until the next call. Precondition (asserted): tick() is
    /// before length().
    std::span<const Event> play();
    /// Returns the fight at the start of tick().
    const Skirmish& fight() const;
    /// Returns where the fight departed from its recording; none: every recorded state was the same.
    const std::optional<ReplayDeparture>& departure() const;
    /// Returns the memory of the key states, in bytes.
    std::size_t key_bytes() const;

  private:
    struct Playing;
    std::unique_ptr<Playing> playing_;
};

} // namespace avrek
