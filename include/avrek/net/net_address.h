#pragma once
#include <array>
#include <compare>
#include <cstdint>
#include <string>

/// Addresses of machines on a network.
namespace avrek {

/// An IPv6 address, or an IPv4 address mapped into IPv6 (RFC 4291, 2.5.5.2), and a UDP port.
struct NetAddress {
    std::array<std::uint8_t, 16> ip{};
    std::uint16_t port = 0;
    friend auto operator<=>(const NetAddress&, const NetAddress&) = default;
};

/// Returns an IPv4 address.
NetAddress ipv4(std::uint8_t a, std::uint8_t b, std::uint8_t c, std::uint8_t d, std::uint16_t port);

/// Returns whether it is an IPv4 address.
bool is_ipv4(const NetAddress& address);

/// Returns the address without its last bits, which one owner can change at will: a network of 256 IPv4
/// addresses (/24), or of IPv6 (/64). Its port is 0.
NetAddress prefix_of(const NetAddress& address);

/// Returns an address as text, such as "127.0.0.1:4717" or "[::1]:4717".
std::string to_string(const NetAddress& address);

} // namespace avrek
