#pragma once
#include <avrek/core/diagnostics.h>
#include <avrek/data/arsenal_digest.h>
#include <avrek/skirmish/named_fields.h>
#include <avrek/skirmish/skirmish.h>

#include <cstdint>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

/// Recorded fights: everything that went into a skirmish, and what its state was like, in a file. The format
/// is in docs/replay.md, its schema in schemas/replay.fbs.
namespace avrek {

/// What a file says before its ticks.
struct ReplayHead {
    std::string made_by{};
    ArsenalDigest arsenal{};
    std::string level_name{}; ///< of the game's choosing
    std::uint64_t level = 0;  ///< see digest_of(const Level&)
    std::string rules{};      ///< id of a match
    std::uint64_t seed = 0;
    SkirmishSettings settings{}; ///< `rules` of it is not kept: it goes by the id
};

/// The head for a skirmish that begins.
ReplayHead head_of(const Skirmish& skirmish, const ArsenalDigest& arsenal, std::string level_name,
                   std::string made_by);

/// Somebody who came in, by ids.
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
};

/// Where a game put somebody.
struct ReplayBodyUpdate {
    BodyUpdate update{}; ///< its joints are those beside
    std::vector<Pose> joints{};
};

/// What went in before and during one tick.
struct ReplayTick {
    std::vector<BodyId> leavers{};
    std::vector<ReplayEntrant> entrants{};
    std::vector<std::uint8_t> order{}; ///< of both together, 1 for the next entrant; empty: leavers first
    std::vector<Intent> intents{};
    std::vector<ReplayBodyUpdate> body_updates{};
    std::optional<std::uint64_t> hash{}; ///< of the state after it
    std::vector<std::uint16_t> parts{};  ///< with a hash: see part_hashes()
};

/// A number of a recorded state.
struct ReplayField {
    std::uint32_t name = 0; ///< see replay_name()
    std::uint64_t bits = 0;
};

/// Some ticks in a row.
struct ReplayChunk {
    Tick first = 0;
    std::vector<ReplayTick> ticks{};
    std::vector<ReplayField> fields{}; ///< of the state after the last of them
};

/// The number that stands for the name of a field.
std::uint32_t replay_name(std::string_view field);

/// How closely a recording can be checked.
struct ReplaySettings {
    std::int32_t hash_every = 16;    ///< ticks, at least 1
    std::int32_t fields_every = 256; ///< ticks between two records of all fields, at least 1
};

/// Writes a replay while a skirmish runs. What has been written is whole up to its last record of fields,
/// whatever happens to the program.
class ReplayWriter {
  public:
    ReplayWriter();
    ~ReplayWriter();
    ReplayWriter(ReplayWriter&&) noexcept;
    ReplayWriter& operator=(ReplayWriter&&) noexcept;

    /// Opens a file; returns what is wrong with it, empty when nothing is.
    std::vector<Diagnostic> open(const std::string& file, const ReplayHead& head,
                                 const ReplaySettings& settings = {});
    /// To be called with Skirmish::add() and remove().
    void add(const Arsenal& arsenal, const Entrant& entrant);
    void remove(BodyId id);
    /// To be called after each tick, with what went into it. Returns false when the file can no longer be
    /// written; close() says why.
    bool tick(const Skirmish& skirmish, std::span<const Intent> intents,
              std::span<const BodyUpdate> updates = {});
    /// Writes what is left, and the mark of the end.
    std::vector<Diagnostic> close();

  private:
    struct Writing;
    std::unique_ptr<Writing> writing_;
};

/// Reads a replay chunk by chunk. Whatever is in the file, there is an answer: a chunk, its end, or a fault.
class ReplayReader {
  public:
    ReplayReader();
    ~ReplayReader();
    ReplayReader(ReplayReader&&) noexcept;
    ReplayReader& operator=(ReplayReader&&) noexcept;

    std::vector<Diagnostic> open(const std::string& file);
    /// The same of bytes in memory, which must stay; `name` is what diagnostics call them.
    std::vector<Diagnostic> open(std::span<const std::byte> bytes, std::string name);

    const ReplayHead& head() const;
    /// The next chunk; none at the end or when there is a fault, which is then in `faults`.
    std::optional<ReplayChunk> next(std::vector<Diagnostic>& faults);
    bool is_at_end() const; ///< the mark of the end has been read

  private:
    struct Reading;
    std::unique_ptr<Reading> reading_;
};

/// The settings of a head for this arsenal, or what keeps a replay from being played with it and in this
/// level: every entry that differs is named.
Loaded<SkirmishSettings> settings_for(const ReplayHead& head, const Arsenal& arsenal,
                                      const ArsenalDigest& digest, const Level& level, std::string_view file);

/// Lets one recorded tick happen. Returns what of it the arsenal does not have; the tick happens without it.
std::vector<Diagnostic> play(const ReplayTick& tick, Skirmish& skirmish);

/// The first tick after which a skirmish was not as recorded, and in what.
struct ReplayDeparture {
    Tick tick = 0;                         ///< after which it was noticed; as exact as hashes are frequent
    Tick last_same = -1;                   ///< after which all was as recorded
    std::string part{};                    ///< the first part of the state that differs then, by its name
    std::vector<FieldDifference> fields{}; ///< at the next record of fields: here, and as recorded
    Tick fields_tick = 0;
};

/// Compares fields as they are with recorded ones.
std::vector<FieldDifference> differences(const std::vector<NamedField>& here,
                                         const std::vector<ReplayField>& recorded, std::size_t most = 64);

} // namespace avrek
