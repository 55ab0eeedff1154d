#pragma once
#include "keys/sections.h"
#include "search.h"

#include <cmath>
#include <string>
#include <type_traits>

/// Holds the values of a spec to the ranges of their keys.
namespace avrek::detail {

/// "is_allowed": whether a value lies in the range of its row, for every type that has one.
bool is_allowed(double value, const KeyRow& row);
bool is_allowed(Duration value, const KeyRow& row);
bool is_allowed(std::int32_t value, const KeyRow& row);
bool is_allowed(const Curve& curve, const KeyRow& row);
bool is_allowed(const Look& look, const KeyRow& row);
bool is_allowed(const PatternPoint& point, const KeyRow& row);
bool is_allowed(const DamageTypeFactor& factor, const KeyRow& row);
bool is_allowed(const RegionMultiplier& multiplier, const KeyRow& row);
template <class Value>
bool is_allowed(const std::optional<Value>& value, const KeyRow& row) {
    return !value || is_allowed(*value, row);
}
template <class Value>
bool is_allowed(const std::vector<Value>& values, const KeyRow& row) {
    if constexpr (std::is_enum_v<Value>) {
        return is_allowed(static_cast<double>(values.size()), row);
    } else {
        return values.size() <= 1000 && std::all_of(values.begin(), values.end(), [&](const Value& value) {
                   return is_allowed(value, row);
               });
    }
}
// Everything else has no range, except the words of an enumeration.
template <class Value>
bool is_allowed(const Value& value, const KeyRow& row) {
    if constexpr (std::is_enum_v<Value>) {
        const auto word = static_cast<std::size_t>(value);
        return word >= row.first_word && word - row.first_word < row.words.size() &&
               !row.words[word - row.first_word].empty();
    } else {
        return true;
    }
}

/// Reports the values that are out of range: a visitor of visit_keys().
class KeyRanges {
  public:
    explicit KeyRanges(Search& search, std::string prefix = {})
        : search_(search), prefix_(std::move(prefix)) {}

    template <class Member>
    void operator()(const char* name, Member&& member, const KeyRow& row, const char*) {
        if (!is_allowed(member, row)) {
            search_.found.push_back({prefix_ + name, "is out of range", range_text(row), Severity::error});
        }
    }
    template <class Spec>
    void group(const char* name, Spec&& spec) {
        KeyRanges inner{search_, prefix_ + name + '.'};
        visit_keys(inner, spec);
    }
    template <class Spec>
    void group(const char* name, std::optional<Spec>& spec) {
        if (spec) {
            group(name, *spec);
        }
    }
    // Attacks are validated by themselves.
    template <class Entry, class... Visit>
    void tables(const char* name, std::vector<Entry>& entries, const KeyTables& rule, const char*,
                const Visit&... visit) {
        search_.error(entries.size() > rule.max, name, "are too many", "as many as the arsenal's limits say");
        if constexpr (!std::is_same_v<Entry, MeleeAttackSpec>) {
            for (Entry& entry : entries) {
                KeyRanges inner{search_, prefix_ + name + '.' + entry.name + '.'};
                if constexpr (sizeof...(Visit) == 0) {
                    visit_keys(inner, entry);
                } else {
                    (visit(inner, entry), ...);
                }
            }
        }
    }

  private:
    static std::string range_text(const KeyRow& row);

    Search& search_;
    std::string prefix_;
};

/// Searches a spec for values out of range.
template <class Spec>
void search_ranges(Search& search, Spec spec) {
    KeyRanges ranges{search};
    visit_keys(ranges, spec);
}

} // namespace avrek::detail
