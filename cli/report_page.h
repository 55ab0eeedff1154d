#pragma once
#include <nlohmann/json_fwd.hpp>

#include <string>

namespace avrek::cli {

/// One HTML file with the data, the page's script and the charts in it; it asks for nothing else.
std::string report_page(const nlohmann::ordered_json& data);

} // namespace avrek::cli
