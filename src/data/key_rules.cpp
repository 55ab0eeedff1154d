#include "../arsenal/keys/sections.h"
#include "key_members.h"

#include <cstdio>
#include <iterator>

namespace avrek::detail {

namespace {

std::string text_of(double value) {
    char text[32];
    std::snprintf(text, sizeof text, "%.6g", value);
    return text;
}

std::string quoted(std::string_view word) {
    return '"' + std::string{word} + '"';
}

template <class List, class Text>
std::string listed(const List& list, const Text& text_of_one) {
    std::string text;
    for (const auto& one : list) {
        text += (text.empty() ? "" : ", ") + text_of_one(one);
    }
    return '[' + text + ']';
}

std::string pair_text(double one, double other) {
    return '[' + text_of(one) + ", " + text_of(other) + ']';
}

// The value of a member as a file would have it.
std::string text_of(double value, const KeyRow& row) {
    return text_of(value / scale_of(row));
}
std::string text_of(Duration value, const KeyRow&) {
    return text_of(to_seconds(value));
}
std::string text_of(std::int32_t value, const KeyRow&) {
    return std::to_string(value);
}
std::string text_of(bool value, const KeyRow& row) {
    return row.words.front().empty() ? value ? "true" : "false" : quoted(row.words[value ? 1 : 0]);
}
template <class Enum>
requires std::is_enum_v<Enum> std::string text_of(Enum value, const KeyRow& row) {
    return quoted(row.words[static_cast<std::size_t>(value) - row.first_word]);
}
template <class Enum>
requires std::is_enum_v<Enum> std::string text_of(const std::vector<Enum>& values, const KeyRow& row) {
    return values.empty()       ? "none"
           : values.size() == 1 ? text_of(values.front(), row)
                                : listed(values, [&](Enum value) { return text_of(value, row); });
}
std::string text_of(ActSet acts, const KeyRow& row) {
    std::vector<Act> members;
    for (std::size_t act = 0; act < act_count; ++act) {
        if (acts.contains(static_cast<Act>(act))) {
            members.push_back(static_cast<Act>(act));
        }
    }
    return text_of(members, row);
}
std::string text_of(CollisionLayers layers, const KeyRow& row) {
    std::vector<CollisionLayer> members;
    for (std::size_t layer = 0; layer < collision_layer_count; ++layer) {
        if (layers.contains(static_cast<CollisionLayer>(layer))) {
            members.push_back(static_cast<CollisionLayer>(layer));
        }
    }
    return text_of(members, row);
}
std::string text_of(const Interruptions& by, const KeyRow& row) {
    std::vector<std::string> words;
    const bool members[] = {by.trigger, by.swap, by.sprint, by.strike, by.stun};
    for (std::size_t word = 0; word < std::size(members); ++word) {
        if (members[word]) {
            words.push_back(quoted(row.words[word]));
        }
    }
    return listed(words, [](const std::string& word) { return word; });
}
std::string text_of(const Curve& curve, const KeyRow&) {
    return listed(curve.points, [](const CurvePoint& point) { return pair_text(point.x, point.y); });
}
std::string text_of(const Look& look, const KeyRow& row) {
    return pair_text(look.yaw / scale_of(row), look.pitch / scale_of(row));
}
std::string text_of(const std::vector<Look>& looks, const KeyRow& row) {
    return listed(looks, [&](const Look& look) { return text_of(look, row); });
}
std::string text_of(const Rotation& rotation, const KeyRow& row) {
    return text_of(look_of(rotation * world_forward()), row);
}
std::string text_of(const Vector3& point, const KeyRow&) {
    return '[' + text_of(point.x()) + ", " + text_of(point.y()) + ", " + text_of(point.z()) + ']';
}
// Names, and what has its default in words.
template <class Member>
requires(!std::is_enum_v<Member>) std::string text_of(const Member&, const KeyRow&) {
    return "none";
}

// Lists the rules of a section.
class RuleList {
  public:
    explicit RuleList(std::string section) : section_(std::move(section)) {}

    template <class Member>
    void operator()(const char* name, Member&& member, const KeyRow& row, const char* meaning) {
        using Plain = std::remove_cvref_t<Member>;
        KeyRule made = rule_of<Plain>(section_, name, row, meaning);
        if (!row.required && made.fallback.empty()) {
            made.fallback = text_of(member, row);
        }
        rules_.push_back(std::move(made));
        if constexpr (std::is_same_v<Plain, Volume>) {
            add_below(hazard_shape_rules());
        } else if constexpr (std::is_same_v<Plain, RegionShapes>) {
            add_below(shape_rules());
        }
    }
    template <class Spec>
    void group(const char* name, Spec&& spec) {
        rules_.push_back(
            rule(section_, name, KeyType::group, {}, "", "as below", "See " + section_ + '.' + name + '.'));
        list_below(name, [&](RuleList& inner) { visit_keys(inner, spec); });
    }
    void group(const char* name, std::optional<GuardSpec>&) {
        GuardSpec guard;
        group(name, guard);
    }
    template <class Entry, class Visit>
    void tables(const char* name, std::vector<Entry>&, const KeyTables& tables, const char* meaning,
                const Visit& visit) {
        rules_.push_back(
            rule(section_, name, KeyType::table, {}, "", tables.required ? "" : "none", meaning));
        Entry entry{};
        list_below(name, [&](RuleList& inner) { visit(inner, entry); });
    }
    template <class Entry>
    void tables(const char* name, std::vector<Entry>& entries, const KeyTables& rule, const char* meaning) {
        tables(name, entries, rule, meaning, [](auto& key, Entry& entry) { visit_keys(key, entry); });
    }
    void add(KeyRule rule) { rules_.push_back(std::move(rule)); }
    std::vector<KeyRule> take() {
        rules_.insert(rules_.end(), below_.begin(), below_.end());
        return std::move(rules_);
    }

  private:
    template <class List>
    void list_below(const char* name, const List& list) {
        RuleList inner{section_ + '.' + name};
        list(inner);
        add_below(inner.take());
    }
    void add_below(const std::vector<KeyRule>& rules) {
        below_.insert(below_.end(), rules.begin(), rules.end());
    }

    std::string section_;
    std::vector<KeyRule> rules_{};
    std::vector<KeyRule> below_{}; // groups and tables
};

// The rules of a section, `like` among them, then those of its groups and named tables.
template <class Spec>
std::vector<KeyRule> section_rules(const std::string& section) {
    RuleList list{section};
    list.add(rule(section, "like", KeyType::entry_id, {}, "", "none",
                  "Another " + section + ", whose values hold for every key that is not given here."));
    Spec spec{};
    visit_keys(list, spec);
    return list.take();
}

} // namespace

KeyRule rule(std::string section, std::string name, KeyType type, KeyRange range, std::string unit,
             std::string fallback, std::string meaning) {
    const bool required = fallback.empty();
    return {std::move(section),  std::move(name),    type, range, std::move(unit), required,
            std::move(fallback), std::move(meaning), {},   {}};
}

} // namespace avrek::detail

namespace avrek {

std::vector<KeyRule> arsenal_keys() {
    static const std::vector<KeyRule> rules = [] {
        std::vector<KeyRule> all;
        Arsenal none;
        detail::visit_sections(
            [&all]<class Spec>(const char* name, std::vector<Spec>&) {
                const std::vector<KeyRule> more = detail::section_rules<Spec>(name);
                all.insert(all.end(), more.begin(), more.end());
            },
            none);
        return all;
    }();
    return rules;
}

} // namespace avrek
