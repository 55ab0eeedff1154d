#pragma once
#include <avrek/core/diagnostics.h>
#include <avrek/data/arsenal_digest.h>
#include <avrek/data/tuned_arsenal.h>
#include <avrek/skirmish/named_fields.h>
#include <avrek/skirmish/skirmish.h>

#include <cstdint>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

/// Replays: the inputs of a skirmish and checks of its states, in a file. docs/replay.md describes the
/// format; its schema is schemas/replay.fbs.
namespace avrek {

/// Head of a replay.
struct ReplayHead {
    std::string made_by{};
    ArsenalDigest arsenal{};
    std::string level_name{}; ///< the game's own name for the level
    std::uint64_t level = 0;  ///< see digest_of(const Level&)
    std::string rules{};      ///< id of a match
    std::uint64_t seed = 0;
    SkirmishSettings settings{};            ///< without `rules`, `locomotions` and `poses`
    std::vector<std::string> locomotions{}; ///< see names_of()
    std::string poses{};                    ///< see name_of()
};

/// Returns the head for a skirmish that begins.
ReplayHead head_of(const Skirmish& skirmish, const ArsenalDigest& arsenal, std::string level_name,
                   std::string made_by);

/// An entrant, by ids.
struct ReplayEntrant {
    BodyId id = nobody;
    TeamId team{};
    Role role = Role::combatant;
    std::string body{};
    std::string melee{}; ///< empty: none
    std::vector<std::string> weapons{};
    std::vector<std::uint16_t> spawns{};
    std::optional<Vector3> at{};
    double yaw = 0.0;
    std::optional<std::uint64_t> spread_seed{};
};

/// A body update, with its poses.
struct ReplayBodyUpdate {
    BodyUpdate update{}; ///< `poses` below hold its poses
    std::vector<Pose> poses{};
};

/// Inputs of one tick.
struct ReplayTick {
    std::vector<BodyId> leavers{};
    std::vector<ReplayEntrant> entrants{};
    std::vector<TuningStep> tuning{}; ///< steps by which the arsenal changed
    /// Arsenals of those steps, see make_arsenals(); not in the file.
    std::vector<std::shared_ptr<const Arsenal>> arsenals{};
    /// 0: a leaver, 1: an entrant, 2: a step; empty: in this order.
    std::vector<std::uint8_t> order{};
    std::vector<Intent> intents{};
    std::vector<ReplayBodyUpdate> body_updates{};
    std::vector<GameAction> actions{};
    std::vector<std::byte> companion{};  ///< state of the companion after the tick; empty: as before
    std::optional<std::uint64_t> hash{}; ///< Skirmish::fight_hash() after the tick
    std::vector<std::uint16_t> parts{};  ///< with a hash: see part_hashes()
};

/// A field of a recorded state.
struct ReplayField {
    std::uint32_t name = 0; ///< see replay_name()
    std::uint64_t bits = 0;
};

/// Consecutive ticks.
struct ReplayChunk {
    Tick first = 0;
    std::vector<ReplayTick> ticks{};
    std::vector<ReplayField> fields{}; ///< fields of the state after the last tick
};

/// Returns the number that stands for the name of a field.
std::uint32_t replay_name(std::string_view field);

/// Density of the recorded checks.
struct ReplaySettings {
    std::int32_t hash_every = 16;    ///< ticks, at least 1
    std::int32_t fields_every = 256; ///< ticks between records of all fields, at least 1
};

/// Writes a replay while a skirmish runs, in a thread of its own. If the program dies, the file is valid up
/// to a record of fields of the last moments. If the disk takes nothing for 5 s, the rest is not written.
///
///     ReplayWriter replay;
///     replay.open("fight.replay", head_of(fight, digest, "atrium", "my game"));
///     fight.advance(intents);
///     replay.tick(fight, intents);   // after each tick
///     replay.close();
class ReplayWriter {
  public:
    ReplayWriter();
    ~ReplayWriter();
    ReplayWriter(ReplayWriter&&) noexcept;
    ReplayWriter& operator=(ReplayWriter&&) noexcept;

    /// Opens a file. Returns its faults, empty on success.
    std::vector<Diagnostic> open(const std::string& file, const ReplayHead& head,
                                 const ReplaySettings& settings = {});
    /// Call it with Skirmish::add() and remove().
    void add(const Arsenal& arsenal, const Entrant& entrant);
    /// Call it with Skirmish::remove().
    void remove(BodyId id);
    /// Call it with Skirmish::retune().
    void retune(const TuningStep& step);
    /// Call it after each tick, with the tick's inputs. Returns false if the file can no longer be written;
    /// close() says why.
    bool tick(const Skirmish& skirmish, std::span<const Intent> intents,
              std::span<const BodyUpdate> updates = {}, std::span<const GameAction> actions = {});
    /// Writes the rest, and the end mark. Returns the faults, a combatant that was never added among them.
    std::vector<Diagnostic> close();

  private:
    struct Writing;
    std::unique_ptr<Writing> writing_;
};

/// Reads a replay chunk by chunk. For any file, each call ends in a chunk, the end, or a fault.
class ReplayReader {
  public:
    ReplayReader();
    ~ReplayReader();
    ReplayReader(ReplayReader&&) noexcept;
    ReplayReader& operator=(ReplayReader&&) noexcept;

    /// Opens a file. Returns its faults, empty on success.
    std::vector<Diagnostic> open(const std::string& file);
    /// Opens bytes in memory, which must outlive it. `name` is their name in diagnostics.
    std::vector<Diagnostic> open(std::span<const std::byte> bytes, std::string name);

    /// Returns the head. Precondition: open() succeeded.
    const ReplayHead& head() const;
    /// Returns the next chunk; none at the end, or with a fault, which is added to `faults`.
    std::optional<ReplayChunk> next(std::vector<Diagnostic>& faults);
    bool is_at_end() const; ///< the end mark has been read

  private:
    struct Reading;
    std::unique_ptr<Reading> reading_;
};

/// Returns the settings of a head for this arsenal, these locomotions and this pose source (null: the
/// built-in one), or the reasons why the replay cannot be played with them in this level: every entry that
/// differs.
Loaded<SkirmishSettings> settings_for(const ReplayHead& head, const Arsenal& arsenal,
                                      const ArsenalDigest& digest, const Level& level, std::string_view file,
                                      const Locomotions& locomotions = {}, const PoseSource* poses = nullptr);

/// Makes the arsenals of a tick's steps, and takes the steps in. Returns the faults of their texts.
std::vector<Diagnostic> make_arsenals(ReplayTick& tick, TunedArsenal& tuned);

/// Plays one recorded tick, with the arsenals that make_arsenals() has made for it. Returns what the arsenal
/// lacks of it; the tick happens without that.
std::vector<Diagnostic> play(const ReplayTick& tick, Skirmish& skirmish);

/// The first difference between a skirmish and its recording.
struct ReplayDeparture {
    Tick tick = 0;                         ///< noticed after this tick; as exact as hashes are frequent
    Tick last_same = -1;                   ///< last tick after which everything was equal
    std::string part{};                    ///< first part of the state that differs
    std::vector<FieldDifference> fields{}; ///< at the next record of fields: here, and as recorded
    Tick fields_tick = 0;
};

/// Compares present fields with recorded ones.
std::vector<FieldDifference> differences(const std::vector<NamedField>& here,
                                         const std::vector<ReplayField>& recorded, std::size_t most = 64);

} // namespace avrek
