#include "streams.h"

#include <algorithm>
#include <array>
#include <utility>

namespace avrek::detail {

namespace {

constexpr std::size_t max_view = 2;
constexpr std::size_t max_length = 4; // bytes that a length takes
constexpr std::size_t block_size = 8192;
constexpr std::size_t part_head = 5; // kind, number of the message, part, parts
constexpr std::size_t max_open = 3;  // messages that miss parts

void put_length(std::vector<std::byte>& to, std::size_t length) {
    const auto byte = [&](std::size_t value) { to.push_back(static_cast<std::byte>(value & 0xffU)); };
    if (length < 0x40) {
        byte(length);
    } else if (length < 0x4000) {
        byte(0x40U | length >> 8U);
        byte(length);
    } else {
        byte(0x80U | length >> 24U);
        byte(length >> 16U);
        byte(length >> 8U);
        byte(length);
    }
}

struct Length {
    std::size_t size = 0; // bytes that the length itself takes
    std::size_t value = 0;
};

// None while not all bytes of it are there; lengths of eight bytes are larger than any that is allowed.
std::optional<Length> length_at(std::span<const std::byte> bytes) {
    if (bytes.empty()) {
        return std::nullopt;
    }
    const auto first = static_cast<std::size_t>(bytes[0]);
    Length length{std::size_t{1} << (first >> 6U), first & 0x3fU};
    if (bytes.size() < length.size) {
        return std::nullopt;
    }
    for (std::size_t index = 1; index < length.size; ++index) {
        length.value = length.value << 8U | static_cast<std::size_t>(bytes[index]);
    }
    return length;
}

} // namespace

void OutStream::add(std::span<const std::byte> message) {
    const std::size_t size = message.size() + max_length;
    if (blocks_.empty() || blocks_.back().capacity() - blocks_.back().size() < size) {
        blocks_.emplace_back().reserve(std::max(block_size, size));
    }
    std::vector<std::byte>& block = blocks_.back(); // does not move
    const std::size_t before = block.size();
    put_length(block, message.size());
    block.insert(block.end(), message.begin(), message.end());
    end_ += block.size() - before;
}

std::span<const std::span<const std::byte>> OutStream::unsent() {
    view_.clear();
    std::uint64_t at = first_;
    for (const std::vector<std::byte>& block : blocks_) {
        const std::uint64_t skipped = std::min<std::uint64_t>(sent_ > at ? sent_ - at : 0, block.size());
        if (skipped < block.size() && view_.size() < max_view) {
            view_.push_back(std::span{block}.subspan(static_cast<std::size_t>(skipped)));
        }
        at += block.size();
    }
    return view_;
}

void OutStream::note_arrived(std::uint64_t until) {
    arrived_ = std::max(arrived_, until);
    while (blocks_.size() > 1 && first_ + blocks_.front().size() <= arrived_) {
        first_ += blocks_.front().size();
        blocks_.pop_front();
    }
    if (!blocks_.empty() && arrived_ == end_) {
        first_ = end_;
        blocks_.front().clear();
    }
}

bool InStream::is_longer_than(std::size_t max_message) const {
    const auto length = length_at(bytes_);
    return length && length->value > max_message;
}

std::optional<std::vector<std::byte>> InStream::next() {
    while (const auto length = length_at(bytes_)) {
        if (bytes_.size() < length->size + length->value) {
            return std::nullopt;
        }
        const auto from = bytes_.begin() + static_cast<std::ptrdiff_t>(length->size);
        const auto to = from + static_cast<std::ptrdiff_t>(length->value);
        std::vector<std::byte> message(from, to);
        bytes_.erase(bytes_.begin(), to);
        overhead_ += length->size;
        if (!message.empty()) {
            return message;
        }
    }
    return std::nullopt;
}

std::size_t InStream::take_overhead() {
    return std::exchange(overhead_, 0);
}

bool PartedMessages::split(std::span<const std::byte> message, std::uint16_t number, std::size_t max_size,
                           std::deque<std::vector<std::byte>>& to) {
    if (message.size() <= max_size) {
        std::vector<std::byte>& datagram = to.emplace_back();
        datagram.reserve(message.size() + 1);
        datagram.push_back(std::byte{0});
        datagram.insert(datagram.end(), message.begin(), message.end());
        return true;
    }
    const std::size_t each = max_size - part_head + 1;
    const std::size_t parts = (message.size() + each - 1) / each;
    if (parts > max_parts) {
        return false;
    }
    for (std::size_t part = 0; part < parts; ++part) {
        const auto bytes = message.subspan(part * each, std::min(each, message.size() - part * each));
        const std::array<std::byte, part_head> head{
            std::byte{1}, static_cast<std::byte>(number & 0xffU), static_cast<std::byte>(number >> 8U),
            static_cast<std::byte>(part), static_cast<std::byte>(parts)};
        std::vector<std::byte>& datagram = to.emplace_back(head.begin(), head.end());
        datagram.insert(datagram.end(), bytes.begin(), bytes.end());
    }
    return true;
}

std::optional<std::vector<std::byte>> PartedMessages::take(std::span<const std::byte> datagram) {
    if (datagram.empty()) {
        return std::nullopt;
    }
    if (datagram[0] == std::byte{0}) {
        return std::vector<std::byte>(datagram.begin() + 1, datagram.end());
    }
    if (datagram[0] != std::byte{1} || datagram.size() < part_head) {
        return std::nullopt;
    }
    const auto number = static_cast<std::uint16_t>(static_cast<unsigned>(datagram[1]) |
                                                   static_cast<unsigned>(datagram[2]) << 8U);
    const auto part = static_cast<std::size_t>(datagram[3]);
    const auto parts = static_cast<std::size_t>(datagram[4]);
    if (part >= parts || parts > max_parts || datagram.size() == part_head) {
        return std::nullopt;
    }
    auto found =
        std::find_if(open_.begin(), open_.end(), [&](const Open& one) { return one.number == number; });
    if (found == open_.end()) {
        if (open_.size() == max_open) {
            open_.pop_front();
        }
        open_.push_back({number, parts, std::vector<std::vector<std::byte>>(parts)});
        found = open_.end() - 1;
    }
    if (found->parts.size() != parts || !found->parts[part].empty()) {
        return std::nullopt;
    }
    found->parts[part].assign(datagram.begin() + static_cast<std::ptrdiff_t>(part_head), datagram.end());
    if (--found->missing > 0) {
        return std::nullopt;
    }
    std::vector<std::byte> message;
    for (const std::vector<std::byte>& each : found->parts) {
        message.insert(message.end(), each.begin(), each.end());
    }
    open_.erase(found);
    return message;
}

} // namespace avrek::detail
