#pragma once
#include "../arsenal/keys/sections.h"
#include "key_reading.h"

#include <toml++/toml.h>

#include <map>
#include <string>
#include <utility>
#include <vector>

namespace avrek::detail {

/// One id of a section, as all files together define it.
struct EntrySource {
    const toml::key* key = nullptr;         ///< where it is defined first
    std::vector<const toml::table*> tables; ///< one for each file that has it, oldest first
};

/// One section as all files state it, before any value is read.
struct SectionSource {
    std::string name;
    std::vector<std::string> order;             ///< ids, by where they are defined first
    std::map<std::string, EntrySource> entries; ///< by id
};

/// Adds the entries of a file's table for `section.name` to `section`.
void gather(const toml::node& file_section, SectionSource& section, Faults& faults);

/// For every entry the entry that it is `like`, newest file first; entries without one are absent. Unknown
/// ids, cycles and chains of more than 16 are reported, and the entries they concern are absent too.
std::map<std::string, std::string> find_bases(const SectionSource& section, Faults& faults);

/// Whether some table of the entry has the key `like`.
bool says_like(const EntrySource& entry);

/// The value of a key such as "spread.aimed" in the newest file that gives it to the entry; null when none
/// does.
const toml::node* find_key(const EntrySource& entry, std::string_view path);

/// Reports the keys that an entry needs and lacks: a visitor of visit_keys().
class MissingKeys {
  public:
    MissingKeys(const std::string& section, const std::string& where, const std::set<std::string>& seen,
                const toml::key& key, Faults& faults)
        : section_(section), where_(where), seen_(seen), key_(key), faults_(faults) {}

    template <class Member>
    void operator()(const char* name, Member&&, const KeyRow& row, const char* meaning) {
        if (row.required) {
            need(rule_of<std::remove_cvref_t<Member>>(section_, name, row, meaning));
        }
    }
    template <class Spec>
    void group(const char*, Spec&&) {}
    template <class Entry, class... Rest>
    void tables(const char* name, std::vector<Entry>&, const KeyTables& tables, Rest&&...) {
        if (tables.required) {
            need(rule(section_, name, KeyType::table, {}, "", "", ""));
        }
    }

  private:
    void need(const KeyRule& rule) {
        if (!seen_.contains(rule.name)) {
            faults_.add(key_.source(), {where_ + '.' + rule.name, "is missing", allowed_text(rule), {}});
        }
    }

    const std::string& section_;
    const std::string& where_;
    const std::set<std::string>& seen_;
    const toml::key& key_;
    Faults& faults_;
};

/// Reads the entries of one section into specs: each starts from the spec it is `like`, then takes its own
/// tables.
template <class Spec>
class SectionReader {
  public:
    SectionReader(const SectionSource& section, Faults& faults)
        : section_(section), faults_(faults), bases_(find_bases(section, faults)) {}

    /// Where an entry, or the one that it is like, is given a key; null when nowhere.
    const toml::node* find(const std::string& id, std::string_view path) const {
        const toml::node* node = find_key(section_.entries.at(id), path);
        const auto base = bases_.find(id);
        return node != nullptr || base == bases_.end() ? node : find(base->second, path);
    }

    /// Whether all that the entry is made of could be followed.
    bool is_whole(const std::string& id) const {
        const auto base = bases_.find(id);
        return base == bases_.end() ? !says_like(section_.entries.at(id)) : is_whole(base->second);
    }

    /// Whether every value of a whole entry that has been read was allowed, so that they can be held to each
    /// other.
    bool is_sound(const std::string& id) const { return is_whole(id) && built_.at(id).sound; }

    std::vector<Spec> read_all() {
        std::vector<Spec> specs;
        for (const std::string& id : section_.order) {
            specs.push_back(read(id).spec);
        }
        return specs;
    }

  private:
    struct Built {
        Spec spec;
        std::set<std::string> seen; // keys that were given, here or by the entry that this one is like
        bool sound = true;          // no value was refused, here or there
    };

    const Built& read(const std::string& id) {
        if (const auto done = built_.find(id); done != built_.end()) {
            return done->second;
        }
        const auto base = bases_.find(id);
        Built built = base == bases_.end() ? Built{} : read(base->second);
        built.spec.id = id;
        const EntrySource& source = section_.entries.at(id);
        const std::string where = section_.name + '.' + id;
        const std::size_t before = faults_.count();
        for (const toml::table* table : source.tables) {
            KeyReading reading{*table, section_.name, where, built.seen, faults_};
            reading.allow("like"); // which bases_ has
            visit_keys(reading, built.spec);
            reading.report_unknown();
        }
        built.sound = built.sound && faults_.count() == before;
        // Values that the base lacks are reported there, and those of a broken base are not known.
        if (base == bases_.end() && !says_like(source)) {
            MissingKeys missing{section_.name, where, built.seen, *source.key, faults_};
            visit_keys(missing, built.spec);
        }
        return built_.emplace(id, std::move(built)).first->second;
    }

    const SectionSource& section_;
    Faults& faults_;
    std::map<std::string, std::string> bases_;
    std::map<std::string, Built> built_;
};

} // namespace avrek::detail
