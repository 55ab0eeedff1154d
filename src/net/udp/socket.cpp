#include "socket.h"

#include <netdb.h>
#include <netinet/in.h>
#include <sys/socket.h>
#include <unistd.h>

#include <algorithm>
#include <cassert>
#include <cerrno>
#include <cstring>
#include <memory>
#include <utility>

namespace avrek::detail {

namespace {

constexpr std::size_t batch = 32;
constexpr std::size_t max_datagram = 1500; // longer ones are cut, and then of no use
constexpr int wanted_buffer = 4 << 20;     // the kernel keeps what comes while nobody reads

struct KernelAddress {
    sockaddr_storage bytes{};
    socklen_t size = sizeof bytes;
};

KernelAddress kernel_address(const NetAddress& address, bool as_six) {
    KernelAddress made;
    if (as_six) {
        auto& six = reinterpret_cast<sockaddr_in6&>(made.bytes);
        six.sin6_family = AF_INET6;
        six.sin6_port = htons(address.port);
        std::memcpy(&six.sin6_addr, address.ip.data(), 16);
        made.size = sizeof six;
    } else {
        auto& four = reinterpret_cast<sockaddr_in&>(made.bytes);
        four.sin_family = AF_INET;
        four.sin_port = htons(address.port);
        std::memcpy(&four.sin_addr, address.ip.data() + 12, 4);
        made.size = sizeof four;
    }
    return made;
}

NetAddress address_from(const sockaddr_storage& kernel) {
    NetAddress address;
    if (kernel.ss_family == AF_INET6) {
        const auto& six = reinterpret_cast<const sockaddr_in6&>(kernel);
        std::memcpy(address.ip.data(), &six.sin6_addr, 16);
        address.port = ntohs(six.sin6_port);
    } else {
        const auto& four = reinterpret_cast<const sockaddr_in&>(kernel);
        address = ipv4(0, 0, 0, 0, ntohs(four.sin_port));
        std::memcpy(address.ip.data() + 12, &four.sin_addr, 4);
    }
    return address;
}

Diagnostic fault(const NetAddress& at, int why) {
    return {.file = to_string(at),
            .message = std::string{"cannot be listened at: "} + std::strerror(why),
            .allowed = "an address of this machine and a UDP port that is free"};
}

} // namespace

std::optional<NetAddress> find_address(const std::string& name, std::uint16_t port) {
    addrinfo wanted{};
    wanted.ai_socktype = SOCK_DGRAM;
    addrinfo* found = nullptr;
    if (getaddrinfo(name.c_str(), nullptr, &wanted, &found) != 0 || found == nullptr) {
        return std::nullopt;
    }
    const std::unique_ptr<addrinfo, void (*)(addrinfo*)> owned{found, freeaddrinfo};
    sockaddr_storage first{};
    std::memcpy(&first, found->ai_addr, std::min<std::size_t>(found->ai_addrlen, sizeof first));
    NetAddress address = address_from(first);
    address.port = port;
    return address;
}

Loaded<UdpSocket> UdpSocket::open(const NetAddress& at) {
    UdpSocket made;
    made.is_six_ = !is_ipv4(at);
    made.handle_ = ::socket(made.is_six_ ? AF_INET6 : AF_INET, SOCK_DGRAM | SOCK_NONBLOCK | SOCK_CLOEXEC, 0);
    const KernelAddress local = kernel_address(at, made.is_six_);
    if (made.handle_ < 0 ||
        ::bind(made.handle_, reinterpret_cast<const sockaddr*>(&local.bytes), local.size) != 0) {
        return {std::nullopt, {fault(at, errno)}};
    }
    // More than the system allows is given to those who may ask for it; the rest get what there is.
    if (::setsockopt(made.handle_, SOL_SOCKET, SO_RCVBUFFORCE, &wanted_buffer, sizeof wanted_buffer) != 0) {
        (void)::setsockopt(made.handle_, SOL_SOCKET, SO_RCVBUF, &wanted_buffer, sizeof wanted_buffer);
    }
    return {std::move(made), {}};
}

UdpSocket::UdpSocket(UdpSocket&& other) noexcept {
    *this = std::move(other);
}

UdpSocket& UdpSocket::operator=(UdpSocket&& other) noexcept {
    std::swap(handle_, other.handle_);
    std::swap(is_six_, other.is_six_);
    std::swap(kept_, other.kept_);
    std::swap(count_, other.count_);
    return *this;
}

UdpSocket::~UdpSocket() {
    if (handle_ >= 0) {
        ::close(handle_);
    }
}

std::size_t UdpSocket::read(std::size_t max_count,
                            const std::function<void(const NetAddress&, std::span<const std::byte>)>& take) {
    std::array<std::array<std::byte, max_datagram>, batch> bytes;
    std::array<sockaddr_storage, batch> from;
    std::array<iovec, batch> pieces;
    std::array<mmsghdr, batch> heads;
    std::size_t count = 0;
    while (count < max_count) {
        for (std::size_t index = 0; index < batch; ++index) {
            pieces[index] = {bytes[index].data(), max_datagram};
            heads[index] = {};
            heads[index].msg_hdr.msg_name = &from[index];
            heads[index].msg_hdr.msg_namelen = sizeof from[index];
            heads[index].msg_hdr.msg_iov = &pieces[index];
            heads[index].msg_hdr.msg_iovlen = 1;
        }
        const auto wanted = static_cast<unsigned>(std::min(batch, max_count - count));
        const int came = ::recvmmsg(handle_, heads.data(), wanted, 0, nullptr);
        if (came <= 0) {
            break;
        }
        for (std::size_t index = 0; index < static_cast<std::size_t>(came); ++index) {
            take(address_from(from[index]), std::span{bytes[index]}.first(heads[index].msg_len));
        }
        count += static_cast<std::size_t>(came);
        if (static_cast<unsigned>(came) < wanted) {
            break;
        }
    }
    return count;
}

void UdpSocket::send(const NetAddress& to, std::span<const std::byte> bytes) {
    if (count_ == kept_.size()) {
        kept_.emplace_back();
    }
    Kept& kept = kept_[count_++];
    assert(bytes.size() <= kept.bytes.size());
    kept.to = to;
    kept.size = bytes.size();
    std::copy(bytes.begin(), bytes.end(), kept.bytes.begin());
    if (count_ == 4 * batch) {
        flush();
    }
}

void UdpSocket::flush() {
    std::array<KernelAddress, batch> to;
    std::array<iovec, batch> pieces;
    std::array<mmsghdr, batch> heads;
    for (std::size_t first = 0; first < count_; first += batch) {
        const std::size_t count = std::min(batch, count_ - first);
        for (std::size_t index = 0; index < count; ++index) {
            Kept& kept = kept_[first + index];
            to[index] = kernel_address(kept.to, is_six_);
            pieces[index] = {kept.bytes.data(), kept.size};
            heads[index] = {};
            heads[index].msg_hdr.msg_name = &to[index].bytes;
            heads[index].msg_hdr.msg_namelen = to[index].size;
            heads[index].msg_hdr.msg_iov = &pieces[index];
            heads[index].msg_hdr.msg_iovlen = 1;
        }
        (void)::sendmmsg(handle_, heads.data(), static_cast<unsigned>(count), 0);
    }
    count_ = 0;
}

std::uint16_t UdpSocket::port() const {
    sockaddr_storage own{};
    socklen_t size = sizeof own;
    return ::getsockname(handle_, reinterpret_cast<sockaddr*>(&own), &size) == 0 ? address_from(own).port
                                                                                 : std::uint16_t{0};
}

} // namespace avrek::detail
