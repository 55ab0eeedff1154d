#pragma once
#include "noises.h"
#include "snapshot_bodies.h"
#include <avrek/data/arsenal_digest.h>
#include <avrek/net/ledger.h>
#include <avrek/net/notices.h>
#include <avrek/net/tickets.h>
#include <avrek/skirmish/game_tick.h>
#include <avrek/skirmish/skirmish.h>

#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <vector>

/// Messages as bytes (schemas/wire.fbs) and back. Whatever the bytes are, reading them gives a message or
/// none.
namespace avrek::detail {

inline constexpr std::uint32_t wire_version = 11;

enum class MessageKind : std::uint8_t {
    join = 1, ///< first message of clients
    intents,
    leave,
    command,
    proposal,
    welcome = 16, ///< first message of the server
    refusal,
    snapshot,
    notices,
    ledger,
    goodbye,
    tuning,
    answer,
};

/// Longer packets are not looked at.
inline constexpr std::size_t max_packet = std::size_t{1} << 16U;
/// The longest that a client has reason to send once it is in.
inline constexpr std::size_t max_client_packet = 1200;

using Bytes = std::vector<std::byte>;

struct JoinMessage {
    std::uint32_t version = wire_version;
    ArsenalDigest arsenal{};
    std::uint64_t level = 0;
    std::vector<std::string> locomotions{}; ///< see names_of()
    std::string poses{};                    ///< see name_of()
    Duration interpolation{};
    std::int32_t send_every = 1; ///< ticks
};

struct WelcomeMessage {
    BodyId you = nobody;
    TeamId team{};
    std::int32_t body = 0; ///< places in the arsenal, not checked
    std::int32_t melee = -1;
    Tick tick = 0;
    SkirmishSettings settings{}; ///< as far as a client must have the same
    std::string rules{};
    std::uint64_t seed = 0;
    bool has_private_seed = false;
    std::vector<std::byte> return_ticket{};
};

struct RefusalMessage {
    std::string reason{};
    std::vector<std::string> differing{};
};

struct IntentsMessage {
    Tick newest = 0;
    Tick snapshot = -1;
    std::vector<Intent> intents{};    ///< intents of the ticks up to `newest`
    bool game_since_snapshot = false; ///< game bytes are differences from those of the snapshot
};

struct SnapshotMessage {
    Tick tick = 0;
    Tick before = -1;
    std::int32_t early = 0;
    Duration view_delay{}; ///< age of the picture from now on; rounded to view_delay_step
    std::vector<ToldNoise> noises{};
    std::vector<std::uint8_t> bodies{};
    std::vector<std::uint8_t> own{};
};

inline constexpr Duration view_delay_step{1 << 16};

struct LedgerMessage {
    bool whole = false;
    std::vector<LedgerEntry> entries{};
};

struct TuningMessage {
    std::uint32_t number = 0; ///< counted from 0
    Tick tick = 0;            ///< at whose start it counts
    std::vector<std::byte> packed{};
};

Bytes encode(const JoinMessage& message);
Bytes encode(const WelcomeMessage& message);
Bytes encode(const RefusalMessage& message);
Bytes encode(const IntentsMessage& message);
Bytes encode(const SnapshotMessage& message);
Bytes encode(std::span<const Notice> notices);
Bytes encode(const LedgerMessage& message);
Bytes encode(const GameCommand& command);
Bytes encode(const TuningMessage& message);
Bytes encode_proposal(std::span<const std::byte> packed);
Bytes encode_answer(std::span<const std::string> faults);
Bytes encode_goodbye(const std::string& reason);

std::optional<JoinMessage> decode_join(std::span<const std::byte> bytes);
std::optional<WelcomeMessage> decode_welcome(std::span<const std::byte> bytes);
std::optional<RefusalMessage> decode_refusal(std::span<const std::byte> bytes);
std::optional<IntentsMessage> decode_intents(std::span<const std::byte> bytes, BodyId who);
std::optional<GameCommand> decode_command(std::span<const std::byte> bytes, BodyId who);
std::optional<SnapshotMessage> decode_snapshot(std::span<const std::byte> bytes);
std::optional<std::vector<Notice>> decode_notices(std::span<const std::byte> bytes);
std::optional<LedgerMessage> decode_ledger(std::span<const std::byte> bytes);
std::optional<TuningMessage> decode_tuning(std::span<const std::byte> bytes);
std::optional<std::vector<std::byte>> decode_proposal(std::span<const std::byte> bytes);
std::optional<std::vector<std::string>> decode_answer(std::span<const std::byte> bytes);
std::optional<std::string> decode_goodbye(std::span<const std::byte> bytes);

} // namespace avrek::detail
