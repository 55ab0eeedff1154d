#pragma once
#include <avrek/skirmish/skirmish.h>

#include <string>
#include <vector>

namespace avrek::cli {

/// Traces of a bout, seen from above, up to now.
class BoutTraces {
  public:
    /// Takes in the last tick.
    void take(const Skirmish& skirmish);

    /// A script that draws it.
    std::string script(const Skirmish& skirmish, const std::string& title, const std::string& subtitle) const;

  private:
    struct Walk {
        BodyId who = nobody;
        TeamId team{};
        std::vector<Vector3> points{};
    };
    struct Line {
        Vector3 from;
        Vector3 to;
        bool hits = false;
    };
    std::vector<Walk> walks_; // one for each life
    std::vector<Line> shots_;
    std::vector<std::vector<Vector3>> deaths_ = std::vector<std::vector<Vector3>>(2);
    std::vector<Vector3> bursts_;
};

} // namespace avrek::cli
