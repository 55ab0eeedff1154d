#include "faults.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <sstream>
#include <tuple>

namespace avrek::detail {

namespace {

constexpr std::size_t max_faults = 1000;

auto place(const Diagnostic& fault) {
    return std::tie(fault.file, fault.line, fault.column, fault.where, fault.message);
}

} // namespace

void Faults::add(const toml::source_region& source, Fault fault) {
    add(source.path ? *source.path : std::string{}, source.begin, std::move(fault));
}

void Faults::add(std::string_view file, toml::source_position at, Fault fault) {
    if (found_.size() >= max_faults) {
        has_more_ = true;
        return;
    }
    found_.push_back({fault.severity, std::string{file}, at.line, at.column, std::move(fault.where),
                      std::move(fault.message), std::move(fault.allowed), std::move(fault.suggestion)});
}

bool Faults::has_errors() const {
    return std::any_of(found_.begin(), found_.end(),
                       [](const Diagnostic& fault) { return fault.severity == Severity::error; });
}

std::vector<Diagnostic> Faults::take() {
    std::stable_sort(found_.begin(), found_.end(),
                     [](const Diagnostic& a, const Diagnostic& b) { return place(a) < place(b); });
    const auto same = [](const Diagnostic& a, const Diagnostic& b) { return place(a) == place(b); };
    found_.erase(std::unique(found_.begin(), found_.end(), same), found_.end());
    if (has_more_) {
        found_.push_back(
            {Severity::error, found_.back().file, 0, 0, {}, "more faults than are shown", {}, {}});
    }
    return std::move(found_);
}

std::string printable(std::string_view text, std::size_t most) {
    std::string shown;
    for (const char character : text) {
        const auto byte = static_cast<unsigned char>(character);
        const bool starts_character = (byte & 0xC0U) != 0x80U;
        if (shown.size() >= most && starts_character) {
            return shown + "...";
        }
        const bool control = byte < 0x20U || byte == 0x7FU;
        shown += control ? '?' : character;
    }
    return shown;
}

std::string describe(const toml::node& node) {
    if (const auto* text = node.as_string()) {
        std::string quoted{'"'};
        return quoted.append(printable(text->get())).append("\" (text)");
    }
    if (const auto* array = node.as_array()) {
        return "a list of " + std::to_string(array->size());
    }
    if (node.is_table()) {
        return "a table";
    }
    std::ostringstream text;
    if (const auto* number = node.as_floating_point()) {
        std::array<char, 32> digits{};
        const auto end = std::to_chars(digits.data(), digits.data() + digits.size(), number->get()).ptr;
        text << std::string_view{digits.data(), static_cast<std::size_t>(end - digits.data())};
    } else if (const auto* whole = node.as_integer()) {
        text << whole->get();
    } else if (const auto* truth = node.as_boolean()) {
        text << (truth->get() ? "true" : "false");
    } else {
        return "a date or time";
    }
    return text.str();
}

} // namespace avrek::detail
