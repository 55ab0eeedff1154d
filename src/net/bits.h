#pragma once
#include <avrek/core/ids.h>

#include <bit>
#include <cstddef>
#include <cstdint>
#include <cstring>
#include <span>
#include <vector>

/// Numbers of any width in bits, packed one after another.
namespace avrek::detail {

static_assert(std::endian::native == std::endian::little, "or words are not packed lowest byte first");

/// Writes bits into bytes, which are whole after finish().
class BitWriter {
  public:
    explicit BitWriter(std::vector<std::uint8_t>& to) : to_(to) { to_.clear(); }

    /// The lowest `width` bits of a number, up to 64.
    void bits(std::uint64_t value, unsigned width) {
        value = width < 64 ? value & ((std::uint64_t{1} << width) - 1U) : value;
        word_ |= value << used_;
        used_ += width;
        if (used_ >= 64) {
            put(sizeof word_);
            used_ -= 64;
            word_ = used_ > 0 ? value >> (width - used_) : 0;
        }
    }
    /// Writes the last bytes. Nothing may be written after it.
    void finish() {
        if (used_ > 0) {
            put((used_ + 7) / 8);
            used_ = 0;
        }
    }
    void flag(bool value) { bits(value ? 1 : 0, 1); }
    /// A number that is mostly small: groups of `group` bits, each with one that says whether more come.
    void small(std::uint64_t value, unsigned group = 4) {
        while (true) {
            const std::uint64_t rest = value >> group;
            bits(value, group);
            flag(rest != 0);
            if (rest == 0) {
                return;
            }
            value = rest;
        }
    }
    void small_signed(std::int64_t value, unsigned group = 4) {
        small(static_cast<std::uint64_t>(value) << 1U ^ static_cast<std::uint64_t>(value >> 63U), group);
    }

    /// The lowest `count` bits of a row of words.
    void words(std::span<const std::uint64_t> row, std::uint32_t count) {
        for (std::uint32_t at = 0; at < count; at += 64) {
            bits(row[at / 64], count - at < 64 ? count - at : 64);
        }
    }
    /// Returns the number of bits that have been written. Not to be asked after finish().
    std::size_t size() const { return 8 * to_.size() + used_; }

  private:
    void put(std::size_t bytes) {
        const std::size_t at = to_.size();
        to_.resize(at + bytes);
        std::memcpy(to_.data() + at, &word_, bytes);
    }

    std::vector<std::uint8_t>& to_;
    std::uint64_t word_ = 0; ///< bits that are not in the bytes yet
    unsigned used_ = 0;      ///< how many, fewer than 64
};

/// Reads what a BitWriter has written. Beyond the end everything is 0, and is_sound() false.
class BitReader {
  public:
    explicit BitReader(std::span<const std::uint8_t> from) : from_(from) {}

    std::uint64_t bits(unsigned width) {
        std::uint64_t value = 0;
        if (width > 8 * from_.size() - at_) {
            sound_ = false;
            at_ = 8 * from_.size();
            return 0;
        }
        if (const std::size_t first = at_ / 8; width <= 56 && first + sizeof value <= from_.size()) {
            std::memcpy(&value, from_.data() + first, sizeof value);
            value = value >> at_ % 8 & ((std::uint64_t{1} << width) - 1U);
            at_ += width;
            return value;
        }
        for (unsigned got = 0; got < width;) {
            const unsigned used = at_ % 8;
            const unsigned now = width - got < 8 - used ? width - got : 8 - used;
            const std::uint64_t part = from_[at_ / 8] >> used & ((1U << now) - 1U);
            value |= part << got;
            got += now;
            at_ += now;
        }
        return value;
    }
    bool flag() { return bits(1) != 0; }
    std::uint64_t small(unsigned group = 4) {
        std::uint64_t value = 0;
        for (unsigned at = 0; sound_; at += group) {
            const std::uint64_t part = bits(group);
            if (at < 64) {
                value |= part << at;
            } else {
                sound_ = false;
            }
            if (!flag()) {
                break;
            }
        }
        return sound_ ? value : 0;
    }
    std::int64_t small_signed(unsigned group = 4) {
        const std::uint64_t value = small(group);
        return static_cast<std::int64_t>(value >> 1U) ^ -static_cast<std::int64_t>(value & 1U);
    }
    /// Returns the number of bytes that have been read, the last one perhaps in part.
    std::size_t bytes_read() const { return (at_ + 7) / 8; }
    /// Marks the input as malformed.
    void fail() { sound_ = false; }
    bool is_sound() const { return sound_; }
    /// All has been read, but for the bits that fill the last byte.
    bool is_at_end() const { return sound_ && 8 * from_.size() - at_ < 8; }

  private:
    std::span<const std::uint8_t> from_;
    std::size_t at_ = 0; // bits
    bool sound_ = true;
};

/// Returns bytes as a BitReader takes them.
inline std::span<const std::uint8_t> as_numbers(std::span<const std::byte> bytes) {
    return {reinterpret_cast<const std::uint8_t*>(bytes.data()), bytes.size()};
}

/// A combatant, or nobody.
inline void write_somebody(BitWriter& to, BodyId who) {
    to.flag(who != nobody);
    if (who != nobody) {
        to.small(static_cast<std::uint32_t>(who));
    }
}
inline BodyId read_somebody(BitReader& from) {
    return from.flag() ? BodyId{static_cast<std::uint32_t>(from.small())} : nobody;
}

} // namespace avrek::detail
