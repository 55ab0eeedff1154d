#pragma once
#include "key_members.h"
#include "toml_file.h"
#include "values.h"

#include <algorithm>
#include <set>
#include <string>
#include <string_view>
#include <vector>

namespace avrek::detail {

/// A value of a file, and its key.
struct KeySource {
    const toml::node& node;
    const std::string& where;
    const KeyRule& rule;
    const KeyRow& row;
    Faults& faults;
};

/// Each reads a value into a member of a spec. A value that is not allowed is reported and changes nothing.
void read_into(const KeySource& from, double& member);
void read_into(const KeySource& from, std::optional<double>& member);
void read_into(const KeySource& from, Duration& member);
void read_into(const KeySource& from, std::optional<Duration>& member);
void read_into(const KeySource& from, std::int32_t& member);
void read_into(const KeySource& from, bool& member);
void read_into(const KeySource& from, std::string& member);
void read_into(const KeySource& from, std::vector<DamageTypeFactor>& member);
void read_into(const KeySource& from, std::vector<RegionMultiplier>& member);
void read_into(const KeySource& from, Curve& member);
void read_into(const KeySource& from, std::vector<Look>& member);
void read_into(const KeySource& from, std::vector<PatternPoint>& member);
void read_into(const KeySource& from, Look& member);
void read_into(const KeySource& from, Rotation& member);
void read_into(const KeySource& from, Vector3& member);
void read_into(const KeySource& from, Volume& member);
void read_into(const KeySource& from, const RegionShapes& member);
void read_into(const KeySource& from, const JointName& member);
void read_into(const KeySource& from, ActSet& member);
void read_into(const KeySource& from, Interruptions& member);
void read_into(const KeySource& from, CollisionLayers& member);

template <class Id>
void read_into(const KeySource& from, SpecRef<Id>& member) {
    member.id = read_other(from.node, from.where, from.rule, from.faults).value_or(member.id);
}

template <class Id>
void read_into(const KeySource& from, std::vector<SpecRef<Id>>& member) {
    if (const auto ids = read_others(from.node, from.where, from.rule, from.faults)) {
        member.clear();
        for (const std::string& id : *ids) {
            member.push_back({id});
        }
    }
}

template <class Enum>
requires std::is_enum_v<Enum>
void read_into(const KeySource& from, Enum& member) {
    if (const auto word = read_word(from.node, from.where, from.rule, from.faults)) {
        member = static_cast<Enum>(*word + from.row.first_word);
    }
}

template <class Enum>
requires std::is_enum_v<Enum>
void read_into(const KeySource& from, std::vector<Enum>& member) {
    if (const auto words = read_words(from.node, from.where, from.rule, from.faults)) {
        member.clear();
        for (const std::size_t word : *words) {
            member.push_back(static_cast<Enum>(word));
        }
    }
}

/// Reads one table: a visitor of visit_keys().
class KeyReading {
  public:
    KeyReading(const toml::table& table, std::string section, std::string where, std::set<std::string>& seen,
               Faults& faults)
        : table_(table), section_(std::move(section)), where_(std::move(where)), seen_(seen),
          faults_(faults) {}

    template <class Member>
    void operator()(const char* name, Member&& member, const KeyRow& row, const char* meaning) {
        if (const toml::node* node = find(name)) {
            const KeyRule rule = rule_of<std::remove_cvref_t<Member>>(section_, name, row, meaning);
            const std::string where = where_ + '.' + name;
            read_into(KeySource{*node, where, rule, row, faults_}, member);
        } else if (reports_missing_ && row.required) {
            const KeyRule rule = rule_of<std::remove_cvref_t<Member>>(section_, name, row, meaning);
            faults_.add(table_.source(), {where_ + '.' + name, "is missing", allowed_text(rule), {}});
        }
    }
    template <class Spec>
    void group(const char* name, Spec&& spec) {
        if (const toml::table* inner = table_at(name, KeyType::group)) {
            std::set<std::string> seen;
            KeyReading reading{*inner, section_ + '.' + name, where_ + '.' + name, seen, faults_};
            visit_keys(reading, spec);
            reading.report_unknown();
        }
    }
    template <class Spec>
    void group(const char* name, std::optional<Spec>& spec) {
        if (table_at(name, KeyType::group) != nullptr) {
            group(name, spec ? *spec : spec.emplace());
        }
    }
    template <class Entry, class Visit>
    void tables(const char* name, std::vector<Entry>& entries, const KeyTables& rule, const char*,
                const Visit& visit) {
        const toml::table* named = table_at(name, KeyType::table);
        if (named == nullptr) {
            return;
        }
        if (named->empty() || named->size() > rule.max) {
            refuse(*named, where_ + '.' + name, rule_at(name, KeyType::table), faults_);
            return;
        }
        for (const auto& [key, value] : in_file_order(*named)) {
            read_entry({name, std::string{key->str()}, *value}, entries, rule, visit);
        }
    }
    template <class Entry>
    void tables(const char* name, std::vector<Entry>& entries, const KeyTables& rule, const char* meaning) {
        tables(name, entries, rule, meaning, [](auto& key, Entry& entry) { visit_keys(key, entry); });
    }

    /// Reports required keys that are missing, too.
    void needs_all() { reports_missing_ = true; }
    /// A key that the caller reads itself.
    void allow(const char* name) { find(name); }
    void report_unknown() const {
        if (known_ < table_.size()) {
            check_key_names(table_, where_, names_, faults_);
        }
    }

  private:
    struct Named {
        const char* key;
        std::string name;
        const toml::node& node;
    };

    const toml::node* find(const char* name) {
        names_.emplace_back(name);
        const toml::node* node = table_.get(name);
        if (node != nullptr) {
            ++known_;
            seen_.insert(name);
        }
        return node;
    }
    KeyRule rule_at(const char* name, KeyType type) const {
        return rule(section_, name, type, {}, "", "none", "");
    }
    const toml::table* table_at(const char* name, KeyType type) {
        const toml::node* node = find(name);
        if (node != nullptr && !node->is_table()) {
            refuse(*node, where_ + '.' + name, rule_at(name, type), faults_);
        }
        return node != nullptr ? node->as_table() : nullptr;
    }
    // Reports a value that is no table, a name that is no id, and one entry too many.
    bool is_entry(const Named& named, const std::string& where, const KeyTables& rule, bool fits) const;

    template <class Entry, class Visit>
    void read_entry(const Named& named, std::vector<Entry>& entries, const KeyTables& rule,
                    const Visit& visit) {
        auto known = std::find_if(entries.begin(), entries.end(),
                                  [&](const Entry& entry) { return entry.name == named.name; });
        const bool is_new = known == entries.end();
        const std::string where = where_ + '.' + named.key + '.' + printable(named.name);
        if (!is_entry(named, where, rule, !is_new || entries.size() < rule.max)) {
            return;
        }
        if (is_new) {
            known = entries.insert(known, Entry{});
            known->name = named.name;
        }
        std::set<std::string> seen;
        const std::size_t before = faults_.count();
        KeyReading reading{*named.node.as_table(), section_ + '.' + named.key, where, seen, faults_};
        reading.reports_missing_ = is_new;
        visit(reading, *known);
        reading.report_unknown();
        if constexpr (requires { validate(*known); }) {
            // A value that was refused would seem to contradict others.
            if (faults_.count() == before) {
                reading.report(validate(*known));
            }
        }
    }
    template <class Found>
    void report(const std::vector<Found>& all) const {
        for (const Found& found : all) {
            const toml::node* value = table_.get(found.key);
            faults_.add(value != nullptr ? value->source() : table_.source(),
                        {where_ + '.' + found.key, found.message, found.allowed, {}, found.severity});
        }
    }

    const toml::table& table_;
    std::string section_;
    std::string where_;
    std::set<std::string>& seen_;
    Faults& faults_;
    std::vector<std::string> names_{};
    std::size_t known_ = 0;
    bool reports_missing_ = false; // entries that are like another can do without
};

/// The list of tables [[name]] that a file has, and nothing else.
struct ListOfTables {
    std::string name;
    std::size_t max = 0;
};

/// Returns the nodes of the list, in order. Whatever else stands in the file, a list that is too long and one
/// that is missing are reported.
std::vector<const toml::node*> nodes_of(const toml::table& root, const ListOfTables& list,
                                        std::string_view file, Faults& faults);

} // namespace avrek::detail
