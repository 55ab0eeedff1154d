#pragma once
#include "shooting_options.h"
#include <avrek/data/arsenal_toml.h>

#include <nlohmann/json_fwd.hpp>

#include <functional>
#include <string>
#include <vector>

namespace avrek::cli {

/// Subject of a report.
struct ReportAsked {
    std::vector<ArsenalText> base;
    std::vector<ArsenalText> overlays; ///< none: no before and after
    std::vector<std::string> armaments;
    std::vector<std::string> shooters;
    std::vector<double> distances;
    std::string body;
    std::string command; ///< that made it
    DistributionSettings settings{};
};

/// All that the page shows. `goes_on` is told what is done, from 0 to 1.
nlohmann::ordered_json report_data(const ReportAsked& asked, const std::function<void(double)>& goes_on);

} // namespace avrek::cli
