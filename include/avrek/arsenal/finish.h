#pragma once
#include <avrek/arsenal/arsenal.h>
#include <avrek/core/diagnostics.h>

namespace avrek {

/// Makes an arsenal that was filled in code ready for use: gives every weapon its ammunition type, resolves
/// all references and validates every spec. Returns no arsenal if there is an error; each diagnostic names
/// its entry and key, such as "weapon.thorn-rifle.effect.condition". The loader does the same for files.
///
///     Arsenal made;
///     made.weapons = {{.id = "thorn-rifle", .magazine = 30, .damage = 22}};
///     const Loaded<Arsenal> arsenal = finish(std::move(made));
[[nodiscard]] Loaded<Arsenal> finish(Arsenal arsenal);

} // namespace avrek
