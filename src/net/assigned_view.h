#pragma once
#include <avrek/core/time.h>

#include <algorithm>

namespace avrek::detail {

/// Age of the picture of one client, as the server assigns it with each snapshot. The client draws remote
/// players by it, and the server rewinds by it: nothing that a client says about a shot counts.
///
/// It follows what the server measures, which is how far the client's newest tick is ahead of the snapshot
/// that it acknowledges: at best, and how much more when packets come unevenly.
class AssignedView {
  public:
    AssignedView() = default;
    /// `declared` is the interpolation that the client asks for; `between` is the time between two of its
    /// packets.
    AssignedView(Duration declared, Duration between) : extra_(declared - between / 2) {}

    /// Takes a measurement: the start of the newest tick that has come, less the end of the snapshot that it
    /// acknowledges first.
    void measure(Duration ahead) {
        ahead = std::clamp(ahead, Duration{}, max_delay);
        least_ = has_measured_ ? std::min(ahead, least_ + drift) : ahead;
        late_ = std::max(ahead - least_, late_ - late_ / 64);
        has_measured_ = true;
    }
    /// Returns the delay from the next snapshot on, `passed` after the one before. It moves by a twentieth of
    /// the time that passes, so nobody can choose it for a shot; at first it jumps to what is measured.
    Duration next(Duration passed) {
        const Duration wanted = std::clamp(least_ + late_ + extra_, Duration{}, max_delay);
        const Duration step = passed / 20;
        value_ = is_settled() ? std::clamp(wanted, value_ - step, value_ + step) : wanted;
        age_ += passed;
        return value_;
    }
    /// Returns the delay that next() returned last.
    Duration value() const { return value_; }
    /// Returns the delay of a picture for which a client names an earlier one: at most `by` from value().
    Duration near(Duration earlier, Duration by) const {
        return is_settled() ? std::clamp(earlier, std::max(Duration{}, value_ - by), value_ + by) : earlier;
    }

  private:
    bool is_settled() const { return age_ >= settles_after; }

    static constexpr Duration settles_after = std::chrono::seconds{1}; // whatever has been measured by then
    static constexpr Duration max_delay = std::chrono::seconds{2};
    static constexpr Duration drift =
        std::chrono::microseconds{20}; // two clocks drift apart by this, per measurement

    Duration extra_{};
    Duration least_{};
    Duration late_{};
    Duration value_{};
    Duration age_{};
    bool has_measured_ = false;
};

} // namespace avrek::detail
