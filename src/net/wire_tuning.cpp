#include "wire_bytes.h"

/// Messages about values that change in a running fight.
namespace avrek::detail {

Bytes encode(const TuningMessage& message) {
    Builder builder;
    const auto packed = put(builder, message.packed);
    return finished(builder, wire::CreateTuning(builder, message.number,
                                                static_cast<std::uint32_t>(message.tick), packed));
}

std::optional<TuningMessage> decode_tuning(std::span<const std::byte> bytes) {
    const Aligned aligned{bytes};
    const auto* table = verified<wire::Tuning>(aligned);
    if (table == nullptr) {
        return std::nullopt;
    }
    return TuningMessage{table->number(), table->tick(), list_of<std::byte>(table->packed())};
}

Bytes encode_proposal(std::span<const std::byte> packed) {
    Builder builder;
    const auto bytes = put(builder, packed);
    return finished(builder, wire::CreateProposal(builder, bytes));
}

std::optional<std::vector<std::byte>> decode_proposal(std::span<const std::byte> bytes) {
    const Aligned aligned{bytes};
    const auto* table = verified<wire::Proposal>(aligned);
    return table != nullptr ? std::optional{list_of<std::byte>(table->packed())} : std::nullopt;
}

Bytes encode_answer(std::span<const std::string> faults) {
    Builder builder;
    const auto list = builder.CreateVectorOfStrings(std::vector<std::string>(faults.begin(), faults.end()));
    return finished(builder, wire::CreateAnswer(builder, list));
}

std::optional<std::vector<std::string>> decode_answer(std::span<const std::byte> bytes) {
    const Aligned aligned{bytes};
    const auto* table = verified<wire::Answer>(aligned);
    if (table == nullptr) {
        return std::nullopt;
    }
    std::vector<std::string> faults;
    for (unsigned index = 0; table->faults() != nullptr && index < table->faults()->size(); ++index) {
        faults.push_back(text_of(table->faults()->Get(index), max_text));
    }
    return faults;
}

} // namespace avrek::detail
