#include <avrek/net/net_address.h>

#include <arpa/inet.h>

#include <algorithm>

namespace avrek {

NetAddress ipv4(std::uint8_t a, std::uint8_t b, std::uint8_t c, std::uint8_t d, std::uint16_t port) {
    return {{0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0xff, 0xff, a, b, c, d}, port};
}

bool is_ipv4(const NetAddress& address) {
    const NetAddress head = ipv4(0, 0, 0, 0, 0);
    return std::equal(head.ip.begin(), head.ip.begin() + 12, address.ip.begin());
}

NetAddress prefix_of(const NetAddress& address) {
    NetAddress prefix = address;
    prefix.port = 0;
    std::fill(prefix.ip.begin() + (is_ipv4(address) ? 15 : 8), prefix.ip.end(), std::uint8_t{0});
    return prefix;
}

std::string to_string(const NetAddress& address) {
    char text[INET6_ADDRSTRLEN] = {};
    const bool is_short = is_ipv4(address);
    inet_ntop(is_short ? AF_INET : AF_INET6, address.ip.data() + (is_short ? 12 : 0), text, sizeof text);
    return (is_short ? std::string{text} : '[' + std::string{text} + ']') + ':' +
           std::to_string(address.port);
}

} // namespace avrek
