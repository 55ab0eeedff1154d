#pragma once
#include <avrek/core/state_gaps.h>

#include <cstddef>
#include <cstdint>
#include <cstring>
#include <span>
#include <type_traits>
#include <vector>

/// Writing states to a buffer of the caller's, and reading them back.
namespace avrek {

/// Returns a checksum. Any change of one byte, and the exchange of any two words, changes it; other damage
/// almost surely does. Detects corruption, not tampering. About as fast as copying the bytes.
std::uint64_t bytes_check(std::span<const std::byte> bytes);

/// Writes plain data in sequence. Data that does not fit is counted, not written.
class StateWriter {
  public:
    /// Writes into `room`.
    explicit StateWriter(std::span<std::byte> room) : room_(room) {}

    /// Writes raw bytes.
    void bytes(const void* from, std::size_t size) {
        if (size_ + size <= room_.size() && size > 0) {
            std::memcpy(room_.data() + size_, from, size);
        }
        size_ += size;
    }
    /// Writes a plain value.
    template <class T>
    void value(const T& value) {
        bytes(&value, sizeof(T));
    }
    /// Writes plain values, without their number.
    template <class T>
    void values(std::span<const T> values) {
        static_assert(std::is_trivially_destructible_v<T>);
        bytes(values.data(), values.size_bytes());
    }
    /// Writes the size, then the elements.
    template <class T>
    void list(const std::vector<T>& list) {
        value(static_cast<std::uint64_t>(list.size()));
        values(std::span<const T>{list});
    }
    /// Writes the same with zeros in the gaps of each element.
    template <class T>
    void clean_values(std::span<const T> all) {
        const std::size_t begin = size_;
        values(all);
        if (size_ <= room_.size()) {
            for (std::size_t index = 0; index < all.size(); ++index) {
                StateGaps::of<T>().clear(room_.data() + begin + index * sizeof(T));
            }
        }
    }
    /// Writes the number of elements, then the elements with zeros in their gaps.
    template <class T>
    void clean_list(const std::vector<T>& list) {
        value(static_cast<std::uint64_t>(list.size()));
        clean_values(std::span<const T>{list});
    }
    /// Returns how many bytes were written, or would have been.
    std::size_t size() const { return size_; }

  private:
    std::span<std::byte> room_;
    std::size_t size_ = 0;
};

/// Reads what a StateWriter wrote. After the first failure every further read fails.
class StateReader {
  public:
    /// Reads from these bytes.
    explicit StateReader(std::span<const std::byte> from) : from_(from) {}

    /// Reads raw bytes.
    bool bytes(void* to, std::size_t size) {
        if (!sound_ || size > from_.size() - at_) {
            return fail();
        }
        if (size > 0) {
            std::memcpy(to, from_.data() + at_, size);
        }
        at_ += size;
        return true;
    }
    /// Reads a plain value.
    template <class T>
    bool value(T& value) {
        return bytes(static_cast<void*>(&value), sizeof(T));
    }
    /// Reads plain values.
    template <class T>
    bool values(std::span<T> values) {
        static_assert(std::is_trivially_destructible_v<T>);
        return bytes(static_cast<void*>(values.data()), values.size_bytes());
    }
    /// Reads a list of at most `most` elements, which must be reserved.
    template <class T>
    bool list(std::vector<T>& list, std::size_t most) {
        std::uint64_t size = 0;
        if (!value(size) || size > most || size * sizeof(T) > from_.size() - at_) {
            return fail();
        }
        list.resize(size);
        return values(std::span<T>{list});
    }
    /// Makes this and every further read fail.
    bool fail() {
        sound_ = false;
        return false;
    }
    /// Returns whether no read has failed.
    bool is_sound() const { return sound_; }
    /// Returns whether everything has been read.
    bool is_at_end() const { return at_ == from_.size(); }

  private:
    std::span<const std::byte> from_;
    std::size_t at_ = 0;
    bool sound_ = true;
};

} // namespace avrek
