#pragma once
#include <avrek/core/diagnostics.h>

#include <cstddef>
#include <string>
#include <vector>

namespace avrek::detail {

/// Collects faults of settings that were made in code.
struct SettingFaults {
    std::vector<Diagnostic> all{};

    /// Adds a fault at `where` unless it holds.
    void unless(bool holds, const std::string& where, const std::string& found, const std::string& allowed) {
        if (!holds) {
            all.push_back({.where = where, .message = "is " + found, .allowed = allowed});
        }
    }
    /// Adds a fault unless a number is in a range.
    template <class Number>
    void range(const std::string& where, Number value, Number min, Number max) {
        unless(value >= min && value <= max, where, std::to_string(value),
               std::to_string(min) + " to " + std::to_string(max));
    }
    /// Adds a fault unless an id has a spec.
    template <class Id, class Spec>
    void id(const std::string& where, Id value, const std::vector<Spec>& specs) {
        unless(static_cast<std::size_t>(value) < specs.size(), where,
               std::to_string(static_cast<std::size_t>(value)),
               "an id of the arsenal, which has " + std::to_string(specs.size()));
    }
};

} // namespace avrek::detail
