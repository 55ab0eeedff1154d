#include "packed_intents.h"
#include "wire_bytes.h"

namespace avrek::detail {

namespace {

constexpr std::size_t max_entries = 100'000;

} // namespace

Bytes encode(const JoinMessage& message) {
    Builder builder;
    std::vector<std::string> names;
    std::vector<std::uint64_t> digests;
    for (const EntryDigest& entry : message.arsenal.entries) {
        names.push_back(entry.name);
        digests.push_back(entry.digest);
    }
    const auto ticket = put(builder, message.ticket);
    const auto key = put(builder, message.key);
    const auto name_list = builder.CreateVectorOfStrings(names);
    const auto digest_list = builder.CreateVector(digests);
    const auto locomotions = builder.CreateVectorOfStrings(message.locomotions);
    const auto poses = builder.CreateString(message.poses);
    return finished(builder, wire::CreateJoin(builder, message.version, ticket, key, message.arsenal.whole,
                                              name_list, digest_list, message.level, locomotions, poses));
}

std::optional<JoinMessage> decode_join(std::span<const std::byte> bytes) {
    const Aligned aligned{bytes};
    const auto* table = verified<wire::Join>(aligned);
    if (table == nullptr || table->key() == nullptr || table->key()->size() != sizeof(PublicKey)) {
        return std::nullopt;
    }
    JoinMessage message;
    message.version = table->version();
    message.ticket = list_of<std::byte>(table->ticket());
    for (flatbuffers::uoffset_t at = 0; at < table->key()->size(); ++at) {
        message.key[at] = std::byte{table->key()->Get(at)};
    }
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
    return message;
}

Bytes encode(const WelcomeMessage& message) {
    Builder builder;
    const SkirmishSettings& set = message.settings;
    return finished(
        builder,
        wire::CreateWelcomeDirect(
            builder, static_cast<std::uint32_t>(message.you), static_cast<std::uint8_t>(message.team),
            static_cast<std::uint16_t>(message.body), static_cast<std::int16_t>(message.melee),
            static_cast<std::uint32_t>(message.tick), static_cast<std::uint16_t>(set.rate.hertz),
            static_cast<std::uint16_t>(set.snapshot_interval), static_cast<std::uint8_t>(set.muzzle),
            static_cast<std::uint16_t>(set.limits.combatants), static_cast<std::uint16_t>(set.projectiles),
            message.rules.c_str(), message.seed, message.has_private_seed));
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

Bytes encode(const IntentsMessage& message) {
    Builder builder{256};
    const std::vector<std::uint8_t> packed = pack_intents(message.intents, message.game_since_snapshot);
    return finished(builder,
                    wire::CreateIntentsDirect(builder, static_cast<std::uint32_t>(message.newest),
                                              static_cast<std::uint32_t>(message.snapshot + 1), &packed));
}

std::optional<IntentsMessage> decode_intents(std::span<const std::byte> bytes, BodyId who) {
    const Aligned aligned{bytes};
    const auto* table = verified<wire::Intents>(aligned);
    if (table == nullptr || table->packed() == nullptr) {
        return std::nullopt;
    }
    IntentsMessage message;
    message.newest = table->newest();
    message.snapshot = Tick{table->snapshot()} - 1;
    message.intents =
        unpack_intents({table->packed()->data(), table->packed()->size()}, who, message.game_since_snapshot);
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
    Builder builder{1024};
    return finished(builder, wire::CreateSnapshotDirect(builder, static_cast<std::uint32_t>(message.tick),
                                                        static_cast<std::uint32_t>(message.before + 1),
                                                        static_cast<std::int16_t>(message.early),
                                                        &message.bodies, &message.own));
}

std::optional<SnapshotMessage> decode_snapshot(std::span<const std::byte> bytes) {
    const Aligned aligned{bytes};
    const auto* table = verified<wire::Snapshot>(aligned);
    if (table == nullptr) {
        return std::nullopt;
    }
    SnapshotMessage message;
    message.tick = table->tick();
    message.before = Tick{table->before()} - 1;
    message.early = table->early();
    message.bodies = list_of<std::uint8_t>(table->bodies());
    message.own = list_of<std::uint8_t>(table->own());
    return message;
}

Bytes encode(std::span<const Notice> notices) {
    Builder builder;
    std::vector<flatbuffers::Offset<wire::NoticeRecord>> records;
    for (const Notice& notice : notices) {
        const auto payload = notice.payload.empty() ? flatbuffers::Offset<flatbuffers::Vector<std::uint8_t>>{}
                                                    : put(builder, notice.payload);
        wire::NoticeRecordBuilder record{builder};
        record.add_kind(static_cast<std::uint8_t>(notice.kind));
        record.add_id(notice.id);
        record.add_at(notice.at.time_since_epoch().count());
        record.add_who(static_cast<std::uint32_t>(notice.who));
        record.add_by(static_cast<std::uint32_t>(notice.by));
        record.add_weapon(to_number(notice.weapon));
        record.add_index(notice.index);
        record.add_number(notice.number);
        record.add_amount(notice.amount);
        const wire::Point point = point_of(notice.point);
        const wire::Point direction = point_of(notice.direction);
        if (!notice.point.isZero(0)) {
            record.add_point(&point);
        }
        if (!notice.direction.isZero(0)) {
            record.add_direction(&direction);
        }
        const wire::Point aim = point_of(notice.aim);
        if (!notice.aim.isZero(0)) {
            record.add_aim(&aim);
        }
        if (!payload.IsNull()) {
            record.add_payload(payload);
        }
        records.push_back(record.Finish());
    }
    return finished(builder, wire::CreateNoticesDirect(builder, &records));
}

std::optional<std::vector<Notice>> decode_notices(std::span<const std::byte> bytes) {
    const Aligned aligned{bytes};
    const auto* table = verified<wire::Notices>(aligned);
    if (table == nullptr || table->notices() == nullptr) {
        return std::nullopt;
    }
    std::vector<Notice> notices;
    for (const auto* record : *table->notices()) {
        if (record->kind() >= notice_kind_count ||
            (record->payload() != nullptr && record->payload()->size() > max_notice_payload)) {
            return std::nullopt;
        }
        Notice notice;
        notice.kind = static_cast<NoticeKind>(record->kind());
        notice.id = record->id();
        notice.at = Time{Duration{record->at()}};
        notice.who = BodyId{record->who()};
        notice.by = BodyId{record->by()};
        notice.weapon = optional_id<WeaponId>(record->weapon());
        notice.index = record->index();
        notice.number = record->number();
        notice.amount = finite(record->amount());
        notice.point = vector_of(record->point());
        notice.direction = vector_of(record->direction());
        notice.aim = vector_of(record->aim());
        notice.payload = list_of<std::byte>(record->payload());
        notices.push_back(std::move(notice));
    }
    return notices;
}

Bytes encode(const LedgerMessage& message) {
    Builder builder;
    std::vector<flatbuffers::Offset<wire::Entry>> entries;
    for (const LedgerEntry& entry : message.entries) {
        const auto property = builder.CreateSharedString(entry.property);
        auto kind = wire::LedgerValue_NONE;
        flatbuffers::Offset<void> value;
        if (!entry.gone) {
            if (const auto* whole = std::get_if<std::int64_t>(&entry.value)) {
                kind = wire::LedgerValue_Whole;
                value = wire::CreateWhole(builder, *whole).Union();
            } else if (const auto* real = std::get_if<double>(&entry.value)) {
                kind = wire::LedgerValue_Real;
                value = wire::CreateReal(builder, *real).Union();
            } else {
                kind = wire::LedgerValue_Text;
                value = wire::CreateTextDirect(builder, std::get<std::string>(entry.value).c_str()).Union();
            }
        }
        entries.push_back(
            wire::CreateEntry(builder, static_cast<std::uint32_t>(entry.subject), property, kind, value));
    }
    return finished(builder, wire::CreateLedgerChangesDirect(builder, message.whole, &entries));
}

std::optional<LedgerMessage> decode_ledger(std::span<const std::byte> bytes) {
    const Aligned aligned{bytes};
    const auto* table = verified<wire::LedgerChanges>(aligned);
    if (table == nullptr || table->entries() == nullptr || table->entries()->size() > max_entries) {
        return std::nullopt;
    }
    LedgerMessage message;
    message.whole = table->whole();
    for (const auto* entry : *table->entries()) {
        LedgerEntry read;
        read.subject = BodyId{entry->subject()};
        read.property = text_of(entry->property(), max_text);
        if (read.property.empty() || read.property.size() > 64) {
            return std::nullopt;
        }
        if (const auto* whole = entry->value_as_Whole()) {
            read.value = whole->value();
        } else if (const auto* real = entry->value_as_Real()) {
            read.value = real->value();
        } else if (const auto* text = entry->value_as_Text()) {
            read.value = text_of(text->value(), max_ledger_text);
        } else {
            read.gone = true;
        }
        message.entries.push_back(std::move(read));
    }
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
