#include "keys/sections.h"
#include "own_reactions.h"
#include <avrek/arsenal/finish.h>
#include <avrek/arsenal/validate.h>

#include <algorithm>
#include <utility>

namespace avrek {

namespace detail {

namespace {

void report(const std::vector<SpecFault>& found, const std::string& where, std::vector<Diagnostic>& faults) {
    for (const SpecFault& fault : found) {
        faults.push_back({.severity = fault.severity,
                          .where = where + '.' + fault.key,
                          .message = fault.message,
                          .allowed = fault.allowed});
    }
}

// Reports names that lead nowhere, and faults of attacks: a visitor of visit_keys().
class MissingEntries {
  public:
    MissingEntries(const Arsenal& arsenal, std::string where, std::vector<Diagnostic>& faults)
        : arsenal_(arsenal), where_(std::move(where)), faults_(faults) {}

    template <class Member>
    void operator()(const char* name, Member&& member, const KeyRow& row, const char*) {
        check(name, member, row);
    }
    template <class Spec>
    void group(const char* name, Spec&& spec) {
        MissingEntries inner{arsenal_, where_ + '.' + name, faults_};
        visit_keys(inner, spec);
    }
    template <class Spec>
    void group(const char* name, std::optional<Spec>& spec) {
        if (spec) {
            group(name, *spec);
        }
    }
    template <class Entry, class... Visit>
    void tables(const char* name, std::vector<Entry>& entries, const KeyTables&, const char*,
                const Visit&... visit) {
        for (Entry& entry : entries) {
            const std::string where = where_ + '.' + name + '.' + entry.name;
            MissingEntries inner{arsenal_, where, faults_};
            if constexpr (sizeof...(Visit) == 0) {
                visit_keys(inner, entry);
            } else {
                (visit(inner, entry), ...);
            }
            if constexpr (requires { validate(entry); }) {
                report(validate(entry), where, faults_);
            }
        }
    }

  private:
    template <class Id>
    void check(const char* name, const SpecRef<Id>& ref, const KeyRow& row) {
        // assign_ammo() gives a weapon none if it has no reserve.
        const bool needs_none = std::is_same_v<Id, AmmoId> && where_.starts_with("weapon.");
        if (!ref.id.empty() && !ref.spec && !needs_none) {
            add(name, ref.id, row.refers);
        }
    }
    template <class Id>
    void check(const char* name, const std::vector<SpecRef<Id>>& refs, const KeyRow& row) {
        for (const SpecRef<Id>& ref : refs) {
            check(name, ref, row);
        }
    }
    void check(const char* name, const std::vector<DamageTypeFactor>& factors, const KeyRow& row) {
        for (const DamageTypeFactor& factor : factors) {
            check(name, factor.type, row);
        }
    }
    void check(const char* name, const std::vector<RegionMultiplier>& multipliers, const KeyRow&) {
        for (const RegionMultiplier& multiplier : multipliers) {
            const bool known =
                std::any_of(arsenal_.bodies.begin(), arsenal_.bodies.end(), [&](const BodySpec& body) {
                    return find_region(body.rig, multiplier.region).has_value();
                });
            if (!known) {
                add(name, multiplier.region, "region of a body");
            }
        }
    }
    template <class Member>
    void check(const char*, const Member&, const KeyRow&) {}

    void add(const char* name, const std::string& id, const char* refers) {
        faults_.push_back({.where = where_ + '.' + name,
                           .message = std::string{"names no "} + refers + ": \"" + id + '"',
                           .allowed = "one that the arsenal has"});
    }

    const Arsenal& arsenal_;
    std::string where_;
    std::vector<Diagnostic>& faults_;
};

template <class Spec>
void check_section(const char* section, std::vector<Spec>& specs, const Arsenal& arsenal,
                   std::vector<Diagnostic>& faults) {
    for (std::size_t index = 0; index < specs.size(); ++index) {
        const std::string where = std::string{section} + '.' + specs[index].id;
        if (find(specs, specs[index].id) != &specs[index]) {
            faults.push_back({.where = where, .message = "is there twice", .allowed = "each id once"});
        }
        MissingEntries missing{arsenal, where, faults};
        visit_keys(missing, specs[index]);
        if constexpr (requires { validate(specs[index]); }) {
            report(validate(specs[index]), where, faults);
        }
    }
}

} // namespace

} // namespace detail

Loaded<Arsenal> finish(Arsenal arsenal) {
    Loaded<Arsenal> finished;
    std::vector<Diagnostic>& faults = finished.diagnostics;
    if (!assign_ammo(arsenal)) {
        faults.push_back({.where = "ammo",
                          .message = "there are too many types, with those of weapons that name none",
                          .allowed = "at most 64"});
    }
    if (detail::own_reaction_names(arsenal.bodies).size() > max_own_reactions) {
        faults.push_back({.where = "body",
                          .message = "there are too many reactions of other names than light and heavy",
                          .allowed = "at most 6 names"});
    }
    resolve_references(arsenal);
    detail::visit_sections(
        [&](const char* section, auto& specs) { detail::check_section(section, specs, arsenal, faults); },
        arsenal);
    if (std::none_of(faults.begin(), faults.end(),
                     [](const Diagnostic& fault) { return fault.severity == Severity::error; })) {
        finished.value = std::move(arsenal);
    }
    return finished;
}

} // namespace avrek
