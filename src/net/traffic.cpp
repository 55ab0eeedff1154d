#include <avrek/net/traffic.h>

namespace avrek {

std::string_view to_string(TrafficKind kind) {
    static constexpr std::string_view words[] = {"stream", "notices", "ledger", "session"};
    return words[static_cast<std::size_t>(kind)];
}

std::string_view to_string(PeerFault fault) {
    static constexpr std::string_view words[] = {"malformed", "oversized", "unexpected",
                                                 "too many",  "too early", "too late"};
    return words[static_cast<std::size_t>(fault)];
}

} // namespace avrek
