#pragma once
#include <avrek/arsenal/body_spec.h>

#include <algorithm>
#include <span>
#include <string_view>
#include <vector>

namespace avrek::detail {

/// Returns the names of the reactions that bodies have of their own, in order of the bodies, each once.
inline std::vector<std::string_view> own_reaction_names(std::span<const BodySpec> bodies) {
    std::vector<std::string_view> names;
    for (const BodySpec& body : bodies) {
        for (const ReactionSpec& reaction : body.reactions) {
            if (std::find(names.begin(), names.end(), reaction.name) == names.end()) {
                names.push_back(reaction.name);
            }
        }
    }
    return names;
}

} // namespace avrek::detail
