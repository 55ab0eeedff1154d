#include "bits.h"
#include "packed_intents.h"
#include "wire_bytes.h"

#include <algorithm>

namespace avrek::detail {

namespace {

constexpr Tick max_tick = 0xffffffff;

Bytes joined(std::span<const std::uint8_t> one, std::span<const std::uint8_t> other) {
    const auto first = std::as_bytes(one);
    const auto second = std::as_bytes(other);
    Bytes bytes(first.begin(), first.end());
    bytes.insert(bytes.end(), second.begin(), second.end());
    return bytes;
}

// A tick as its distance before another, or none: -1.
void write_near(BitWriter& bits, Tick tick, Tick other, unsigned group) {
    bits.flag(tick >= 0);
    if (tick >= 0) {
        bits.small_signed(other - tick, group);
    }
}

Tick read_near(BitReader& bits, Tick other, unsigned group) {
    if (!bits.flag()) {
        return -1;
    }
    const std::int64_t before = bits.small_signed(group);
    if (before > other || before < other - max_tick) {
        bits.fail();
        return -1;
    }
    return other - before;
}

} // namespace

Bytes encode(const JoinMessage& message) {
    Builder builder;
    std::vector<std::string> names;
    std::vector<std::uint64_t> digests;
    for (const EntryDigest& entry : message.arsenal.entries) {
        names.push_back(entry.name);
        digests.push_back(entry.digest);
    }
    const auto name_list = builder.CreateVectorOfStrings(names);
    const auto digest_list = builder.CreateVector(digests);
    const auto locomotions = builder.CreateVectorOfStrings(message.locomotions);
    const auto poses = builder.CreateString(message.poses);
    return finished(builder,
                    wire::CreateJoin(builder, message.version, message.arsenal.whole, name_list, digest_list,
                                     message.level, locomotions, poses, message.interpolation.count(),
                                     static_cast<std::uint8_t>(message.send_every)));
}

std::optional<JoinMessage> decode_join(std::span<const std::byte> bytes) {
    const Aligned aligned{bytes};
    const auto* table = verified<wire::Join>(aligned);
    if (table == nullptr) {
        return std::nullopt;
    }
    JoinMessage message;
    message.version = table->version();
    message.arsenal.whole = table->arsenal();
    const auto* names = table->entry_names();
    const auto* digests = table->entry_digests();
    if (names != nullptr && digests != nullptr && names->size() == digests->size()) {
        for (flatbuffers::uoffset_t at = 0; at < names->size(); ++at) {
            message.arsenal.entries.push_back({text_of(names->Get(at), max_text), digests->Get(at)});
        }
    }
    message.level = table->level();
    for (flatbuffers::uoffset_t at = 0; table->locomotions() != nullptr && at < table->locomotions()->size();
         ++at) {
        message.locomotions.push_back(text_of(table->locomotions()->Get(at), max_text));
    }
    message.poses = text_of(table->poses(), max_text);
    message.interpolation = Duration{table->interpolation()};
    message.send_every = table->send_every();
    return message;
}

Bytes encode(const WelcomeMessage& message) {
    Builder builder;
    const SkirmishSettings& set = message.settings;
    const auto return_ticket = put(builder, message.return_ticket);
    const auto rules = builder.CreateString(message.rules);
    return finished(
        builder,
        wire::CreateWelcome(
            builder, static_cast<std::uint32_t>(message.you), static_cast<std::uint8_t>(message.team),
            static_cast<std::uint16_t>(message.body), static_cast<std::int16_t>(message.melee),
            static_cast<std::uint32_t>(message.tick), static_cast<std::uint16_t>(set.rate.hertz),
            static_cast<std::uint16_t>(set.snapshot_interval), static_cast<std::uint8_t>(set.muzzle),
            static_cast<std::uint16_t>(set.limits.combatants), static_cast<std::uint16_t>(set.projectiles),
            rules, message.seed, message.has_private_seed, return_ticket));
}

std::optional<WelcomeMessage> decode_welcome(std::span<const std::byte> bytes) {
    const Aligned aligned{bytes};
    const auto* table = verified<wire::Welcome>(aligned);
    if (table == nullptr || table->rate() < 1 || table->rate() > 1000 || table->snapshot_interval() < 1 ||
        table->muzzle() > 2 || table->combatants() < 1 || table->combatants() > max_seen_bodies ||
        table->projectiles() < 1) {
        return std::nullopt;
    }
    WelcomeMessage message;
    message.you = BodyId{table->you()};
    message.team = TeamId{static_cast<std::uint8_t>(table->team() % 32)};
    message.body = table->body();
    message.melee = table->melee();
    message.tick = table->tick();
    message.settings.rate.hertz = table->rate();
    message.settings.snapshot_interval = table->snapshot_interval();
    message.settings.muzzle = static_cast<MuzzleRule>(table->muzzle());
    message.settings.limits.combatants = table->combatants();
    message.settings.projectiles = table->projectiles();
    message.rules = text_of(table->rules(), max_text);
    message.seed = table->seed();
    message.has_private_seed = table->has_private_seed();
    message.return_ticket = list_of<std::byte>(table->return_ticket());
    return message;
}

Bytes encode(const RefusalMessage& message) {
    Builder builder;
    const auto differing = builder.CreateVectorOfStrings(message.differing);
    const auto reason = builder.CreateString(message.reason);
    return finished(builder, wire::CreateRefusal(builder, reason, differing));
}

std::optional<RefusalMessage> decode_refusal(std::span<const std::byte> bytes) {
    const Aligned aligned{bytes};
    const auto* table = verified<wire::Refusal>(aligned);
    if (table == nullptr) {
        return std::nullopt;
    }
    RefusalMessage message{text_of(table->reason(), max_text), {}};
    if (table->differing() != nullptr) {
        for (const auto* name : *table->differing()) {
            message.differing.push_back(text_of(name, max_text));
        }
    }
    return message;
}

// The two messages that come many times a second have no table: their heads are packed bit by bit.
Bytes encode(const IntentsMessage& message) {
    std::vector<std::uint8_t> head;
    BitWriter bits{head};
    bits.bits(static_cast<std::uint32_t>(message.newest), 32);
    write_near(bits, message.snapshot, message.newest, 7);
    bits.finish();
    return joined(head, pack_intents(message.intents, message.game_since_snapshot));
}

std::optional<IntentsMessage> decode_intents(std::span<const std::byte> bytes, BodyId who) {
    const std::span<const std::uint8_t> all = as_numbers(bytes);
    BitReader bits{all};
    IntentsMessage message;
    message.newest = static_cast<Tick>(bits.bits(32));
    message.snapshot = read_near(bits, message.newest, 7);
    if (!bits.is_sound()) {
        return std::nullopt;
    }
    message.intents = unpack_intents(all.subspan(bits.bytes_read()), who, message.game_since_snapshot);
    return message.intents.empty() ? std::nullopt : std::optional{std::move(message)};
}

Bytes encode(const GameCommand& command) {
    Builder builder{256};
    const auto bytes = put(builder, command.bytes);
    return finished(
        builder, wire::CreateCommand(builder, static_cast<std::uint32_t>(command.tick), command.kind, bytes));
}

std::optional<GameCommand> decode_command(std::span<const std::byte> bytes, BodyId who) {
    const Aligned aligned{bytes};
    const auto* table = verified<wire::Command>(aligned);
    if (table == nullptr || (table->bytes() != nullptr && table->bytes()->size() > max_command_bytes)) {
        return std::nullopt;
    }
    return GameCommand{who, table->tick(), table->kind(), list_of<std::byte>(table->bytes())};
}

Bytes encode(const SnapshotMessage& message) {
    std::vector<std::uint8_t> head;
    BitWriter bits{head};
    bits.bits(static_cast<std::uint32_t>(message.tick), 32);
    write_near(bits, message.before, message.tick, 5);
    bits.small_signed(message.early);
    bits.small(static_cast<std::uint64_t>(message.view_delay / view_delay_step), 6);
    write_noises(bits, message.noises);
    bits.small(message.bodies.size(), 7);
    bits.finish();
    Bytes bytes = joined(head, message.bodies);
    const auto own = std::as_bytes(std::span{message.own});
    bytes.insert(bytes.end(), own.begin(), own.end());
    return bytes;
}

std::optional<SnapshotMessage> decode_snapshot(std::span<const std::byte> bytes) {
    const std::span<const std::uint8_t> all = as_numbers(bytes);
    BitReader bits{all};
    SnapshotMessage message;
    message.tick = static_cast<Tick>(bits.bits(32));
    message.before = read_near(bits, message.tick, 5);
    const std::int64_t early = bits.small_signed();
    const std::uint64_t view_delay = bits.small(6);
    message.noises = read_noises(bits);
    const std::uint64_t size = bits.small(7);
    const std::size_t from = bits.bytes_read();
    if (!bits.is_sound() || size > all.size() - from) {
        return std::nullopt;
    }
    message.early = static_cast<std::int32_t>(std::clamp<std::int64_t>(early, -10'000, 10'000));
    message.view_delay = static_cast<Duration::rep>(view_delay & 0xffffU) * view_delay_step;
    const auto middle = all.begin() + static_cast<std::ptrdiff_t>(from + size);
    message.bodies.assign(all.begin() + static_cast<std::ptrdiff_t>(from), middle);
    message.own.assign(middle, all.end());
    return message;
}

Bytes encode_goodbye(const std::string& reason) {
    Builder builder;
    return finished(builder, wire::CreateGoodbyeDirect(builder, reason.c_str()));
}

std::optional<std::string> decode_goodbye(std::span<const std::byte> bytes) {
    const Aligned aligned{bytes};
    const auto* table = verified<wire::Goodbye>(aligned);
    return table != nullptr ? std::optional{text_of(table->reason(), max_text)} : std::nullopt;
}

} // namespace avrek::detail
