#include <avrek/net/ledger.h>

#include <bit>
#include <cassert>

namespace avrek {

namespace {

bool same(const LedgerValue& one, const LedgerValue& other) {
    const double* a = std::get_if<double>(&one);
    const double* b = std::get_if<double>(&other);
    return a != nullptr && b != nullptr ? std::bit_cast<std::uint64_t>(*a) == std::bit_cast<std::uint64_t>(*b)
                                        : one == other;
}

LedgerValue held(const LedgerValue& value) {
    const std::string* text = std::get_if<std::string>(&value);
    return text != nullptr && text->size() > max_ledger_text ? LedgerValue{text->substr(0, max_ledger_text)}
                                                             : value;
}

} // namespace

bool Ledger::set(BodyId subject, std::string_view property, const LedgerValue& value) {
    assert(!property.empty() && property.size() <= 64);
    const Seen key{static_cast<std::uint32_t>(subject), property};
    const LedgerValue kept = held(value);
    auto found = values_.find(key);
    if (found != values_.end() && same(found->second, kept)) {
        return false;
    }
    Key whole{key.subject, std::string{property}};
    changed_[whole] = false;
    values_.insert_or_assign(std::move(whole), kept);
    return true;
}

bool Ledger::forget(BodyId subject, std::string_view property) {
    const auto found = values_.find(Seen{static_cast<std::uint32_t>(subject), property});
    if (found == values_.end()) {
        return false;
    }
    changed_[found->first] = true;
    values_.erase(found);
    return true;
}

void Ledger::forget(BodyId subject) {
    const auto number = static_cast<std::uint32_t>(subject);
    for (auto at = values_.lower_bound(Seen{number, {}});
         at != values_.end() && at->first.subject == number;) {
        changed_[at->first] = true;
        at = values_.erase(at);
    }
}

const LedgerValue* Ledger::find(BodyId subject, std::string_view property) const {
    const auto found = values_.find(Seen{static_cast<std::uint32_t>(subject), property});
    return found != values_.end() ? &found->second : nullptr;
}

std::int64_t Ledger::whole(BodyId subject, std::string_view property, std::int64_t otherwise) const {
    const LedgerValue* value = find(subject, property);
    const std::int64_t* number = value != nullptr ? std::get_if<std::int64_t>(value) : nullptr;
    return number != nullptr ? *number : otherwise;
}

double Ledger::number(BodyId subject, std::string_view property, double otherwise) const {
    const LedgerValue* value = find(subject, property);
    if (value == nullptr || std::holds_alternative<std::string>(*value)) {
        return otherwise;
    }
    const double* number = std::get_if<double>(value);
    return number != nullptr ? *number : static_cast<double>(std::get<std::int64_t>(*value));
}

std::vector<BodyId> Ledger::subjects_with(std::string_view property) const {
    std::vector<BodyId> subjects;
    for (const auto& [key, value] : values_) {
        const BodyId subject{key.subject};
        if (subject != nobody && key.property == property) {
            subjects.push_back(subject);
        }
    }
    return subjects;
}

std::vector<LedgerEntry> Ledger::entries() const {
    std::vector<LedgerEntry> all;
    all.reserve(values_.size());
    for (const auto& [key, value] : values_) {
        all.push_back({BodyId{key.subject}, key.property, value, false});
    }
    return all;
}

std::vector<LedgerEntry> Ledger::take_changes() {
    std::vector<LedgerEntry> changes;
    changes.reserve(changed_.size());
    for (const auto& [key, gone] : changed_) {
        LedgerEntry change{BodyId{key.subject}, key.property, {}, gone};
        if (!gone) {
            change.value = values_.at(key);
        }
        changes.push_back(std::move(change));
    }
    changed_.clear();
    return changes;
}

std::vector<std::string> differences(const Ledger& one, const Ledger& other) {
    std::vector<std::string> found;
    const auto look = [&found](const Ledger& from, const Ledger& in, bool both) {
        for (const LedgerEntry& entry : from.entries()) {
            const LedgerValue* there = in.find(entry.subject, entry.property);
            if (there == nullptr || (both && !same(*there, entry.value))) {
                const std::string subject = entry.subject == nobody
                                                ? "match"
                                                : std::to_string(static_cast<std::uint32_t>(entry.subject));
                found.push_back(subject + '.' + entry.property);
            }
        }
    };
    look(one, other, true);
    look(other, one, false);
    return found;
}

} // namespace avrek
