#include "action_record.h"

#include "../core/field_words.h"
#include "action_fields.h"

#include <array>
#include <utility>

namespace avrek::detail {

namespace {

template <class Words, class Kind>
void visit_words(Words& words, Kind& action) {
    FieldWords<Words> fields{words};
    FieldWalk walk{fields};
    visit_fields(walk, action);
}

// A default action of the kind with this index.
template <std::size_t... Indices>
std::optional<ActionKind> made(std::size_t kind, std::index_sequence<Indices...>) {
    std::optional<ActionKind> action;
    ((kind == Indices ? void(action.emplace(std::in_place_index<Indices>)) : void()), ...);
    return action;
}

} // namespace

std::vector<std::uint64_t> words_of(const ActionKind& what) {
    ActionKind action = what;
    WordWriting writing;
    std::visit([&writing](auto& kind) { visit_words(writing, kind); }, action);
    return std::move(writing.words);
}

std::optional<ActionKind> action_of(std::size_t kind, const std::vector<std::uint64_t>& words) {
    std::optional<ActionKind> action =
        made(kind, std::make_index_sequence<std::variant_size_v<ActionKind>>{});
    if (!action || words_of(*action).size() != words.size()) {
        return std::nullopt;
    }
    WordReading reading{words};
    std::visit([&reading](auto& made_kind) { visit_words(reading, made_kind); }, *action);
    return action;
}

} // namespace avrek::detail
