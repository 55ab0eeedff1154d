#pragma once
#include "key_making.h"

namespace avrek::detail {

/// The keys of a hit's effect, for specs with the effect that `Effect` returns.
template <class Spec, auto Effect>
Group<Spec> effect_group(const std::string& section) {
    Rows<Spec> rows{section + ".effect"};
    rows.other("type", "damage", "none", "Damage type.",
               [](Spec& spec, const std::string& id) { Effect(spec).type.id = id; });
    rows.other("condition", "condition", "none", "Condition that a hit leaves.",
               [](Spec& spec, const std::string& id) { Effect(spec).condition.id = id; });
    rows.number("strength", {0.0, 1000.0, true}, "", "1", "Strength of that condition.",
                [](Spec& spec, double value) { Effect(spec).strength = value; });
    rows.word("reaction", words_of<ReactionClass>(3), "\"none\"", "Stagger class of a hit.",
              [](Spec& spec, std::size_t word) { Effect(spec).reaction = static_cast<ReactionClass>(word); });
    return {"effect", rows.rows};
}

} // namespace avrek::detail
