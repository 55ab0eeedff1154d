#include "fields.h"
#include "kept_fight.h"
#include <avrek/skirmish/named_fields.h>

#include <bit>
#include <charconv>
#include <unordered_map>

namespace avrek {

namespace {

using detail::FieldHashing;

std::uint64_t bits(std::int64_t value) {
    return static_cast<std::uint64_t>(value);
}

std::uint64_t bits(double value) {
    return std::bit_cast<std::uint64_t>(value);
}

// Gives each field's full name and value to `visit`.
template <class Visit>
class Naming {
  public:
    explicit Naming(const Visit& visit) : visit_(visit) {}
    void operator()(std::string_view name, bool value) { (*this)(name, std::int64_t{value}); }
    void operator()(std::string_view name, std::int64_t value) { give(name, value); }
    void operator()(std::string_view name, double value) { give(name, value); }
    void enter(std::string_view name, std::int64_t number) {
        ends_.push_back(where_.size());
        where_ += name;
        if (number >= 0) {
            where_ += '[';
            where_ += std::to_string(number);
            where_ += ']';
        }
        where_ += '.';
    }
    void leave() {
        where_.resize(ends_.back());
        ends_.pop_back();
    }

  private:
    void give(std::string_view name, auto value) {
        const std::size_t end = where_.size();
        where_ += name;
        visit_(std::string_view{where_}, value);
        where_.resize(end);
    }

    const Visit& visit_;
    std::string where_;
    std::vector<std::size_t> ends_;
};

// Hashes the numbers of each part on its own. A part is a scope that is numbered, or stands at the top or in
// one that is; what is in smaller scopes counts as the part's own.
class Parting {
  public:
    explicit Parting(bool with_names) : with_names_(with_names) {
        parts_.reserve(1024);
        begin();
    }
    template <class Value>
    void operator()(std::string_view name, Value value) {
        parts_[part_](name, value);
    }
    void enter(std::string_view name, std::int64_t number) {
        const std::size_t depth = numbered_.size();
        const bool is_part = depth == 0 || number >= 0 || (depth == 2 && numbered_[1]);
        numbered_.push_back(number >= 0);
        if (with_names_) {
            ends_.push_back(where_.size());
            where_ += where_.empty() ? "" : ".";
            where_ += name;
            where_ += number >= 0 ? '[' + std::to_string(number) + ']' : std::string{};
        }
        open_.push_back(part_);
        if (is_part) {
            begin();
        }
    }
    void leave() {
        numbered_.pop_back();
        part_ = open_.back();
        open_.pop_back();
        if (with_names_) {
            where_.resize(ends_.back());
            ends_.pop_back();
        }
    }
    std::size_t size() const { return parts_.size(); }
    std::uint16_t hash_of(std::size_t part) {
        return static_cast<std::uint16_t>(parts_[part].hash().value());
    }
    /// Precondition: with names.
    const std::string& name_of(std::size_t part) const { return names_[part]; }

  private:
    void begin() {
        part_ = parts_.size();
        parts_.emplace_back();
        if (with_names_) {
            names_.push_back(where_);
        }
    }

    bool with_names_;
    std::vector<FieldHashing> parts_{};
    std::vector<std::string> names_{};
    std::size_t part_ = 0;            // what a field counts to
    std::vector<std::size_t> open_{}; // parts of the scopes around
    std::vector<char> numbered_{};
    std::vector<std::size_t> ends_{};
    std::string where_{};
};

template <class AnyFight>
std::vector<std::uint16_t> hashes_of_parts(const AnyFight& fight) {
    Parting parting{false};
    detail::add_skirmish(parting, fight);
    std::vector<std::uint16_t> hashes(parting.size());
    for (std::size_t part = 0; part < hashes.size(); ++part) {
        hashes[part] = parting.hash_of(part);
    }
    return hashes;
}

template <class AnyFight>
void visit_names(const AnyFight& fight, const std::function<void(std::string_view, std::uint64_t)>& visit) {
    const auto give = [&visit](std::string_view name, auto value) { visit(name, bits(value)); };
    Naming naming{give};
    detail::add_skirmish(naming, fight);
}

} // namespace

std::vector<std::uint16_t> part_hashes(const Skirmish& skirmish) {
    return hashes_of_parts(skirmish);
}

std::vector<std::uint16_t> detail::part_hashes(const KeptFight& fight) {
    return hashes_of_parts(fight);
}

std::string first_difference(const Skirmish& skirmish, const std::vector<std::uint16_t>& parts) {
    Parting parting{true};
    detail::add_skirmish(parting, skirmish);
    for (std::size_t part = 0; part < parting.size() && part < parts.size(); ++part) {
        if (parting.hash_of(part) != parts[part]) {
            return parting.name_of(part).empty() ? "tick" : parting.name_of(part);
        }
    }
    return parts.empty() || parts.size() == parting.size() ? "" : "the number of parts";
}

std::uint64_t bits_of(const NamedField& field) {
    return std::visit([](auto value) { return bits(value); }, field.value);
}

std::string value_text(const NamedField& field) {
    char text[64];
    const auto end = std::visit(
        [&](auto value) { return std::to_chars(text, text + sizeof text, value).ptr; }, field.value);
    return {text, end};
}

std::vector<NamedField> named_fields(const Skirmish& skirmish) {
    std::vector<NamedField> fields;
    const auto add = [&fields](std::string_view name, auto value) {
        fields.push_back({std::string{name}, value});
    };
    Naming naming{add};
    detail::add_skirmish(naming, skirmish);
    return fields;
}

void visit_named_fields(const Skirmish& skirmish,
                        const std::function<void(std::string_view, std::uint64_t)>& visit) {
    visit_names(skirmish, visit);
}

void detail::visit_named_fields(const KeptFight& fight,
                                const std::function<void(std::string_view, std::uint64_t)>& visit) {
    visit_names(fight, visit);
}

std::vector<FieldDifference> differences(const std::vector<NamedField>& one,
                                         const std::vector<NamedField>& other, std::size_t most) {
    std::unordered_map<std::string_view, const NamedField*> left;
    for (const NamedField& field : other) {
        left.emplace(field.name, &field);
    }
    std::vector<FieldDifference> found;
    for (const NamedField& field : one) {
        const auto same = left.find(field.name);
        const NamedField* counterpart = same != left.end() ? same->second : nullptr;
        if ((counterpart == nullptr || bits_of(*counterpart) != bits_of(field)) && found.size() < most) {
            found.push_back({field.name, value_text(field),
                             counterpart != nullptr ? value_text(*counterpart) : std::string{}});
        }
        left.erase(field.name);
    }
    for (const NamedField& field : other) {
        if (left.contains(field.name) && found.size() < most) {
            found.push_back({field.name, {}, value_text(field)});
        }
    }
    return found;
}

std::vector<FieldDifference> differences(const Skirmish& one, const Skirmish& other, std::size_t most) {
    return differences(named_fields(one), named_fields(other), most);
}

} // namespace avrek
