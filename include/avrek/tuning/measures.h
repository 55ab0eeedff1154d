#pragma once
#include <avrek/data/wishes_toml.h>
#include <avrek/tuning/kill_distribution.h>

#include <map>
#include <memory>
#include <span>
#include <string>
#include <vector>

/// Measures for wishes and sweeps.
namespace avrek {

/// A measured value with its maximum error. Infinite: it does not happen.
struct Measured {
    double value = 0.0;
    double error = 0.0;
};

namespace detail {
class SharedMaps;
}

/// Measures one arsenal after another. Parts that do not depend on the changed paths are computed once, and
/// copies share some of them: use copies in one thread.
class Measures {
  public:
    /// The `changed` paths can differ between the arsenals.
    Measures(std::span<const Wish> wishes, std::span<const std::string> changed,
             const DistributionSettings& settings);

    /// Returns the measure of each wish. Times that are never reached are `never`.
    std::vector<Measured> of(const Arsenal& arsenal);

    static constexpr double never = 600.0;

  private:
    struct Key {
        std::string armament;
        std::string shooter;
        std::string body;
        std::string region;
        double at = 0.0;
        auto operator<=>(const Key&) const = default;
    };
    Key key_of(const Arsenal& arsenal, const Wish& wish, std::size_t side) const;
    bool depends(const Arsenal& arsenal, const Key& key) const;
    Measured measured(const Arsenal& arsenal, const Wish& wish,
                      const std::map<Key, const KillDistribution*>& known) const;

    std::vector<Wish> wishes_;
    std::vector<std::string> changed_;
    DistributionSettings settings_;
    std::map<Key, KillDistribution> kept_{};
    std::shared_ptr<detail::SharedMaps> maps_;
};

} // namespace avrek
