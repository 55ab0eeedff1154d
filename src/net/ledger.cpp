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
    const auto number = static_cast<std::uint32_t>(subject);
    const LedgerValue kept = held(value);
    Properties& of = values_[number];
    const auto found = of.find(property);
    if (found != of.end() && same(found->second, kept)) {
        return false;
    }
    size_ += found == of.end() ? 1 : 0;
    changed_[{number, std::string{property}}] = false;
    of.insert_or_assign(std::string{property}, kept);
    return true;
}

bool Ledger::forget(BodyId subject, std::string_view property) {
    const auto number = static_cast<std::uint32_t>(subject);
    const auto of = values_.find(number);
    const auto found = of != values_.end() ? of->second.find(property) : Properties::iterator{};
    if (of == values_.end() || found == of->second.end()) {
        return false;
    }
    changed_[{number, found->first}] = true;
    of->second.erase(found);
    --size_;
    if (of->second.empty()) {
        values_.erase(of);
    }
    return true;
}

void Ledger::forget(BodyId subject) {
    const auto number = static_cast<std::uint32_t>(subject);
    const auto of = values_.find(number);
    if (of == values_.end()) {
        return;
    }
    for (const auto& [property, value] : of->second) {
        changed_[{number, property}] = true;
    }
    size_ -= of->second.size();
    values_.erase(of);
}

const LedgerValue* Ledger::find(BodyId subject, std::string_view property) const {
    const auto of = values_.find(static_cast<std::uint32_t>(subject));
    if (of == values_.end()) {
        return nullptr;
    }
    const auto found = of->second.find(property);
    return found != of->second.end() ? &found->second : nullptr;
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
    for (const auto& [number, of] : values_) {
        const BodyId subject{number};
        if (subject != nobody && of.contains(property)) {
            subjects.push_back(subject);
        }
    }
    return subjects;
}

std::vector<LedgerEntry> Ledger::entries() const {
    std::vector<LedgerEntry> all;
    all.reserve(size_);
    for (const auto& [number, of] : values_) {
        for (const auto& [property, value] : of) {
            all.push_back({BodyId{number}, property, value, false});
        }
    }
    return all;
}

std::vector<LedgerEntry> Ledger::take_changes() {
    std::vector<LedgerEntry> changes;
    changes.reserve(changed_.size());
    for (const auto& [key, gone] : changed_) {
        LedgerEntry change{BodyId{key.subject}, key.property, {}, gone};
        if (!gone) {
            change.value = *find(change.subject, key.property);
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
