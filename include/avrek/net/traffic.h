#pragma once
#include <array>
#include <cstddef>
#include <cstdint>
#include <string_view>

/// Traffic and faults of connections.
namespace avrek {

/// Purpose of a packet.
enum class TrafficKind : std::uint8_t {
    stream,  ///< intents and snapshots: frequent, the newest counts
    notices, ///< sent once, reliable
    ledger,
    session, ///< joining and leaving
};

/// Number of traffic kinds.
inline constexpr std::size_t traffic_kind_count = 4;

/// Returns the word for a kind.
std::string_view to_string(TrafficKind kind);

/// Messages and bytes, without what the transport adds.
struct Traffic {
    std::array<std::uint64_t, traffic_kind_count> bytes{};
    std::array<std::uint64_t, traffic_kind_count> packets{};

    /// Counts a packet of this size.
    void add(TrafficKind kind, std::size_t size) {
        bytes[static_cast<std::size_t>(kind)] += size;
        ++packets[static_cast<std::size_t>(kind)];
    }
    /// Returns the bytes of all kinds.
    std::uint64_t all_bytes() const { return bytes[0] + bytes[1] + bytes[2] + bytes[3]; }
    /// Returns the packets of all kinds.
    std::uint64_t all_packets() const { return packets[0] + packets[1] + packets[2] + packets[3]; }
};

/// Fault of a packet or its content.
enum class PeerFault : std::uint8_t {
    malformed,
    oversized,
    unexpected, ///< not allowed in this state of the session
    too_many,   ///< beyond ServerLimits::packets
    too_early,  ///< beyond ServerLimits::ahead; also after a server stood still
    too_late,   ///< its tick was over; networks also do that
};

/// Number of fault kinds.
inline constexpr std::size_t peer_fault_count = 6;

/// Returns the words for a fault.
std::string_view to_string(PeerFault fault);

/// Number of faults by kind.
struct FaultCounts {
    std::array<std::uint64_t, peer_fault_count> counts{};

    /// Returns the count of a kind, to change it.
    std::uint64_t& operator[](PeerFault fault) { return counts[static_cast<std::size_t>(fault)]; }
    /// Returns the count of a kind.
    std::uint64_t operator[](PeerFault fault) const { return counts[static_cast<std::size_t>(fault)]; }
    /// Returns the number of faults that neither a network nor a server that stood still causes.
    std::uint64_t guilty() const {
        std::uint64_t sum = 0;
        for (std::size_t fault = 0; fault < peer_fault_count; ++fault) {
            const auto kind = static_cast<PeerFault>(fault);
            sum += kind == PeerFault::too_late || kind == PeerFault::too_early ? 0 : counts[fault];
        }
        return sum;
    }
    /// Adds the counts of another.
    FaultCounts& operator+=(const FaultCounts& other) {
        for (std::size_t fault = 0; fault < peer_fault_count; ++fault) {
            counts[fault] += other.counts[fault];
        }
        return *this;
    }
};

/// Signs of unfair play in what a peer sends, as measures for the game. None gains anything, and none is
/// proof: bad links and quick hands cause some.
struct PeerSigns {
    std::uint64_t early = 0;  ///< intents that came more than ServerLimits::early before their tick
    std::uint64_t stale = 0;  ///< packets that name an older snapshot than the packet before
    std::uint64_t turns = 0;  ///< ticks in which it turned faster than ServerLimits::turn
    std::uint64_t unseen = 0; ///< foes that it said it noticed and could not see; such a claim is taken out

    /// Returns the sum of all.
    std::uint64_t all() const { return early + stale + turns + unseen; }
};

} // namespace avrek
