#include "fields.h"
#include <avrek/skirmish/named_fields.h>

#include <bit>
#include <charconv>
#include <unordered_map>

namespace avrek {

namespace {

class Naming {
  public:
    explicit Naming(std::vector<NamedField>& fields) : fields_(fields) {}
    void operator()(std::string_view name, std::int64_t value) { fields_.push_back({at(name), value}); }
    void operator()(std::string_view name, double value) { fields_.push_back({at(name), value}); }
    void enter(std::string_view name, std::int64_t number) {
        ends_.push_back(where_.size());
        where_ += name;
        if (number >= 0) {
            where_ += '[' + std::to_string(number) + ']';
        }
        where_ += '.';
    }
    void leave() {
        where_.resize(ends_.back());
        ends_.pop_back();
    }

  private:
    std::string at(std::string_view name) const { return where_ + std::string{name}; }

    std::vector<NamedField>& fields_;
    std::string where_;
    std::vector<std::size_t> ends_;
};

} // namespace

std::uint64_t bits_of(const NamedField& field) {
    if (const auto* number = std::get_if<double>(&field.value)) {
        return std::bit_cast<std::uint64_t>(*number);
    }
    return static_cast<std::uint64_t>(std::get<std::int64_t>(field.value));
}

std::string value_text(const NamedField& field) {
    char text[64];
    const auto end = std::visit(
        [&](auto value) { return std::to_chars(text, text + sizeof text, value).ptr; }, field.value);
    return {text, end};
}

std::vector<NamedField> named_fields(const Skirmish& skirmish) {
    std::vector<NamedField> fields;
    Naming naming{fields};
    fields::add_skirmish(naming, skirmish);
    return fields;
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
