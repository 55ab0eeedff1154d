#include "toml_file.h"
#include <avrek/data/arsenal_digest.h>

#include <nlohmann/json.hpp>

#define XXH_INLINE_ALL
#include <xxhash.h>

#include <algorithm>
#include <iterator>

namespace avrek {

namespace {

using SortedJson = nlohmann::json; // whose objects are sorted by key

// A value with every number as a real one, so that 720 and 720.0 are the same.
SortedJson plain(const toml::node& node) {
    if (const auto* table = node.as_table()) {
        SortedJson object = SortedJson::object();
        for (const auto& [key, value] : *table) {
            object[std::string{key.str()}] = plain(value);
        }
        return object;
    }
    if (const auto* list = node.as_array()) {
        SortedJson array = SortedJson::array();
        for (const toml::node& value : *list) {
            array.push_back(plain(value));
        }
        return array;
    }
    if (const auto number = node.value<double>()) {
        return *number;
    }
    if (const auto flag = node.value<bool>()) {
        return *flag;
    }
    return node.value<std::string>().value_or("");
}

// Tables are merged, everything else is replaced.
void lay_over(SortedJson& below, const SortedJson& above) {
    if (!below.is_object() || !above.is_object()) {
        below = above;
        return;
    }
    for (const auto& [key, value] : above.items()) {
        lay_over(below[key], value);
    }
}

std::uint64_t digest(const std::string& text) {
    return XXH3_64bits(text.data(), text.size());
}

} // namespace

ArsenalDigest digest_of(std::span<const ArsenalText> texts) {
    SortedJson all = SortedJson::object();
    for (const ArsenalText& text : texts) {
        detail::Faults faults;
        lay_over(all, plain(detail::parse_toml(text.text, text.name, faults)));
    }
    ArsenalDigest made;
    std::string whole;
    for (const auto& [section, entries] : all.items()) {
        for (const auto& [id, entry] : entries.is_object() ? entries.items() : SortedJson::object().items()) {
            made.entries.push_back({section + '.' + id,
                                    digest(entry.dump(-1, ' ', true, SortedJson::error_handler_t::replace))});
        }
    }
    for (const EntryDigest& entry : made.entries) {
        whole += entry.name;
        whole += ' ';
        whole += std::to_string(entry.digest);
        whole += '\n';
    }
    made.whole = digest(whole);
    return made;
}

std::vector<std::string> differing_entries(const ArsenalDigest& one, const ArsenalDigest& other) {
    const auto less = [](const EntryDigest& a, const EntryDigest& b) {
        return a.name != b.name ? a.name < b.name : a.digest < b.digest;
    };
    std::vector<EntryDigest> left = one.entries;
    std::vector<EntryDigest> right = other.entries;
    std::sort(left.begin(), left.end(), less);
    std::sort(right.begin(), right.end(), less);
    std::vector<EntryDigest> only;
    std::set_symmetric_difference(left.begin(), left.end(), right.begin(), right.end(),
                                  std::back_inserter(only), less);
    std::vector<std::string> names;
    for (const EntryDigest& entry : only) {
        if (names.empty() || names.back() != entry.name) {
            names.push_back(entry.name);
        }
    }
    return names;
}

} // namespace avrek
