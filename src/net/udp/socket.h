#pragma once
#include <avrek/core/diagnostics.h>
#include <avrek/core/time.h>
#include <avrek/net/net_address.h>

#include <array>
#include <cstddef>
#include <functional>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace avrek::detail {

/// Finds an address by its name, such as "127.0.0.1" or "server.example".
std::optional<NetAddress> find_address(const std::string& name, std::uint16_t port);

/// A UDP socket that does not block. It reads and sends many datagrams at a time.
class UdpSocket {
  public:
    /// Opens a socket at an address of this machine. Returns why it cannot.
    static Loaded<UdpSocket> open(const NetAddress& at);
    UdpSocket(UdpSocket&& other) noexcept;
    UdpSocket& operator=(UdpSocket&& other) noexcept;
    ~UdpSocket();

    /// Reads at most so many datagrams. Returns how many there were.
    std::size_t read(std::size_t max_count,
                     const std::function<void(const NetAddress&, std::span<const std::byte>)>& take);
    /// Keeps a datagram for flush(). Precondition (asserted): at most 1,200 bytes.
    void send(const NetAddress& to, std::span<const std::byte> bytes);
    /// Sends what was kept. What the network does not take is lost.
    void flush();

    int handle() const { return handle_; }
    std::uint16_t port() const;

  private:
    UdpSocket() = default;
    struct Kept {
        NetAddress to{};
        std::size_t size = 0;
        std::array<std::byte, 1200> bytes;
    };
    int handle_ = -1;
    bool is_six_ = false;
    std::vector<Kept> kept_{};
    std::size_t count_ = 0; ///< entries of `kept_` in use
};

} // namespace avrek::detail
