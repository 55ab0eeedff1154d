#pragma once
#include <cstddef>
#include <cstdint>
#include <deque>
#include <optional>
#include <span>
#include <vector>

/// Messages on the streams and in the datagrams of a connection.
namespace avrek::detail {

/// Messages on their way out on one stream: each as its length (a variable-length integer of RFC 9000, 16)
/// and its bytes. They stay where they are until they have arrived.
class OutStream {
  public:
    std::int64_t id = -1; ///< none before the handshake is over

    /// Adds a message; an empty one shows that the connection is alive.
    void add(std::span<const std::byte> message);
    /// Returns what has not been sent yet, up to a few pieces.
    std::span<const std::span<const std::byte>> unsent();
    void note_sent(std::size_t bytes) { sent_ += bytes; }
    /// Forgets what has arrived.
    void note_arrived(std::uint64_t until);
    bool has_unsent() const { return sent_ < end_; }
    bool is_all_there() const { return arrived_ == end_; }
    std::size_t waiting() const { return static_cast<std::size_t>(end_ - arrived_); } ///< bytes

  private:
    /// Blocks of messages, which are filled one after the other: QUIC puts together again what lies side by
    /// side.
    std::deque<std::vector<std::byte>> blocks_{};
    std::vector<std::span<const std::byte>> view_{};
    std::uint64_t first_ = 0; ///< offset of the first block
    std::uint64_t arrived_ = 0;
    std::uint64_t sent_ = 0;
    std::uint64_t end_ = 0;
};

/// Messages that arrive on one stream.
class InStream {
  public:
    /// Takes bytes.
    void take(std::span<const std::byte> bytes) { bytes_.insert(bytes_.end(), bytes.begin(), bytes.end()); }
    /// Returns the next whole message, if there is one. Empty ones are left out.
    std::optional<std::vector<std::byte>> next();
    /// Returns whether the message that has begun is longer than that.
    bool is_longer_than(std::size_t max_message) const;
    /// Returns how many bytes of lengths and empty messages have been taken since the last call.
    std::size_t take_overhead();

  private:
    std::vector<std::byte> bytes_{};
    std::size_t overhead_ = 0;
};

/// Puts together the parts of large unreliable messages.
///
/// A datagram is a 0 and a message, or a part: its number, the message's, and how many parts there are.
class PartedMessages {
  public:
    static constexpr std::size_t max_parts = 60;

    /// Writes a message as datagrams of at most `max_size` bytes of message each. False if it is too large.
    static bool split(std::span<const std::byte> message, std::uint16_t number, std::size_t max_size,
                      std::deque<std::vector<std::byte>>& to);
    /// Takes a datagram. Returns the message that it is, or completes.
    std::optional<std::vector<std::byte>> take(std::span<const std::byte> datagram);

  private:
    struct Open {
        std::uint16_t number = 0;
        std::size_t missing = 0;
        std::vector<std::vector<std::byte>> parts{};
    };
    std::deque<Open> open_{}; ///< the newest last
};

} // namespace avrek::detail
