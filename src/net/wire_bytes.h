#pragma once
#include "wire.h"
#include "wire_generated.h"

#include <algorithm>
#include <cmath>
#include <span>
#include <string>
#include <vector>

/// Tables of FlatBuffers as bytes and back.
namespace avrek::detail {

using Builder = flatbuffers::FlatBufferBuilder;

inline Bytes taken(const Builder& builder) {
    const auto* begin = reinterpret_cast<const std::byte*>(builder.GetBufferPointer());
    return {begin, begin + builder.GetSize()};
}

template <class Table>
Bytes finished(Builder& builder, flatbuffers::Offset<Table> table) {
    builder.Finish(table);
    return taken(builder);
}

/// FlatBuffers reads numbers where they lie, so the bytes must lie as they were written.
struct Aligned {
    std::vector<std::uint64_t> room;
    std::size_t size = 0;

    explicit Aligned(std::span<const std::byte> bytes) : room(bytes.size() / 8 + 1), size(bytes.size()) {
        std::copy(bytes.begin(), bytes.end(), reinterpret_cast<std::byte*>(room.data()));
    }
    const std::uint8_t* data() const { return reinterpret_cast<const std::uint8_t*>(room.data()); }
};

template <class Table>
const Table* verified(const Aligned& bytes) {
    flatbuffers::Verifier verifier{bytes.data(), bytes.size, 16, 100'000};
    return bytes.size <= max_packet && verifier.VerifyBuffer<Table>(nullptr)
               ? flatbuffers::GetRoot<Table>(bytes.data())
               : nullptr;
}

inline std::string text_of(const flatbuffers::String* text, std::size_t most) {
    return text != nullptr ? text->str().substr(0, most) : std::string{};
}

template <class To>
std::vector<To> list_of(const flatbuffers::Vector<std::uint8_t>* list) {
    std::vector<To> bytes;
    if (list != nullptr) {
        bytes.reserve(list->size());
        for (const std::uint8_t byte : *list) {
            bytes.push_back(To{byte});
        }
    }
    return bytes;
}

inline flatbuffers::Offset<flatbuffers::Vector<std::uint8_t>> put(Builder& builder,
                                                                  std::span<const std::byte> bytes) {
    return builder.CreateVector(reinterpret_cast<const std::uint8_t*>(bytes.data()), bytes.size());
}

inline double finite(double value) {
    return std::isfinite(value) ? value : 0.0;
}

inline constexpr std::size_t max_text = 512;

} // namespace avrek::detail
