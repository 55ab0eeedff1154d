#pragma once
#include <array>
#include <cstddef>
#include <cstdint>
#include <string_view>

/// What is counted of connections.
namespace avrek {

/// What a packet was for.
enum class TrafficKind : std::uint8_t {
    stream,  ///< intents, or what is shown: frequent, and the newest counts
    notices, ///< once, and certain
    ledger,
    session, ///< joining and leaving
};

inline constexpr std::size_t traffic_kind_count = 4;

std::string_view to_string(TrafficKind kind);

/// Packets and their bytes, tags and numbers of packets counted, headers of the network not.
struct Traffic {
    std::array<std::uint64_t, traffic_kind_count> bytes{};
    std::array<std::uint64_t, traffic_kind_count> packets{};

    void add(TrafficKind kind, std::size_t size) {
        bytes[static_cast<std::size_t>(kind)] += size;
        ++packets[static_cast<std::size_t>(kind)];
    }
    std::uint64_t all_bytes() const { return bytes[0] + bytes[1] + bytes[2] + bytes[3]; }
    std::uint64_t all_packets() const { return packets[0] + packets[1] + packets[2] + packets[3]; }
};

/// What was wrong with a packet, or with what it said.
enum class PeerFault : std::uint8_t {
    malformed,
    oversized,
    forged,       ///< its tag is wrong
    replayed,     ///< it has come before; a network does that too
    unexpected,   ///< not at this time of a session
    too_many,     ///< beyond ServerLimits::packets
    too_early,    ///< beyond ServerLimits::ahead
    too_late,     ///< its tick was over, and had to do without; a network does that too
    view_too_old, ///< it says that it sees others older than its link explains
};

inline constexpr std::size_t peer_fault_count = 9;

std::string_view to_string(PeerFault fault);

struct FaultCounts {
    std::array<std::uint64_t, peer_fault_count> counts{};

    std::uint64_t& operator[](PeerFault fault) { return counts[static_cast<std::size_t>(fault)]; }
    std::uint64_t operator[](PeerFault fault) const { return counts[static_cast<std::size_t>(fault)]; }
    /// Of those that no network makes.
    std::uint64_t guilty() const {
        std::uint64_t sum = 0;
        for (std::size_t fault = 0; fault < peer_fault_count; ++fault) {
            const auto kind = static_cast<PeerFault>(fault);
            sum +=
                kind == PeerFault::replayed || kind == PeerFault::too_late || kind == PeerFault::view_too_old
                    ? 0
                    : counts[fault];
        }
        return sum;
    }
    FaultCounts& operator+=(const FaultCounts& other) {
        for (std::size_t fault = 0; fault < peer_fault_count; ++fault) {
            counts[fault] += other.counts[fault];
        }
        return *this;
    }
};

} // namespace avrek
