#include "report_page.h"

#include <nlohmann/json.hpp>

#include <string_view>

// Out of report_page.s.
extern "C" const char avrek_page_begin[];
extern "C" const char avrek_page_end[];
extern "C" const char avrek_script_begin[];
extern "C" const char avrek_script_end[];
extern "C" const char avrek_charts_begin[];
extern "C" const char avrek_charts_end[];

namespace avrek::cli {

namespace {

std::string_view between(const char* begin, const char* end) {
    return {begin, static_cast<std::size_t>(end - begin)};
}

void put(std::string& page, std::string_view mark, std::string_view text) {
    if (const std::size_t at = page.find(mark); at != std::string::npos) {
        page.replace(at, mark.size(), text);
    }
}

} // namespace

std::string report_page(const nlohmann::ordered_json& data) {
    std::string page{between(avrek_page_begin, avrek_page_end)};
    // Text inside a script must not end the script.
    std::string text = data.dump(-1, ' ', true, nlohmann::ordered_json::error_handler_t::replace);
    for (std::size_t at = text.find("</"); at != std::string::npos; at = text.find("</", at + 3)) {
        text.insert(at + 1, "\\");
    }
    put(page, "@SCRIPT@", between(avrek_script_begin, avrek_script_end));
    put(page, "@DATA@", text);
    put(page, "@CHARTS@", between(avrek_charts_begin, avrek_charts_end));
    return page;
}

} // namespace avrek::cli
