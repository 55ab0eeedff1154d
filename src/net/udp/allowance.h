#pragma once
#include <avrek/core/time.h>
#include <avrek/net/net_address.h>

#include <algorithm>
#include <map>
#include <set>

namespace avrek::detail {

/// Tokens that come back evenly, up to a second's worth.
struct Allowance {
    double per_second = 0.0;
    double left = per_second;
    Time at{};

    bool take(Time now) {
        left = std::min(per_second, left + per_second * to_seconds(now - at));
        at = now;
        const bool is_enough = left >= 1.0;
        left -= is_enough ? 1.0 : 0.0;
        return is_enough;
    }
};

/// How many datagrams are looked at: of each known address, and of all strangers together. The rest are
/// dropped before anything is computed for them.
class DatagramAllowances {
  public:
    DatagramAllowances(double per_peer, double of_strangers)
        : per_peer_(per_peer), strangers_{.per_second = of_strangers} {}

    bool take(const NetAddress& from, Time now) {
        const auto known = peers_.find(from);
        return known != peers_.end() ? known->second.take(now) : strangers_.take(now);
    }
    /// Sets the addresses that are known.
    void know(const std::set<NetAddress>& addresses) {
        std::erase_if(peers_, [&](const auto& one) { return !addresses.contains(one.first); });
        for (const NetAddress& address : addresses) {
            peers_.try_emplace(address, Allowance{.per_second = per_peer_});
        }
    }

  private:
    double per_peer_;
    Allowance strangers_;
    std::map<NetAddress, Allowance> peers_{};
};

} // namespace avrek::detail
