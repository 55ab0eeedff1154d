#pragma once
#include <avrek/core/time.h>
#include <avrek/net/net_address.h>

#include <map>

/// How many strangers may begin a handshake.
namespace avrek::detail {

/// Handshakes that addresses may begin: so many a second from one prefix, as many at once. It remembers a
/// bounded number of prefixes; while more than those ask, new ones wait.
class Admission {
  public:
    explicit Admission(double per_second) : per_second_(per_second) {}

    /// Returns whether a handshake may begin, and counts it.
    bool take(const NetAddress& from, Time now);

  private:
    struct Allowance {
        double left = 0.0;
        Time at{};
    };
    double per_second_;
    std::map<NetAddress, Allowance> prefixes_{};
};

} // namespace avrek::detail
