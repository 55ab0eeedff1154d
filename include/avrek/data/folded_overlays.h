#pragma once
#include <avrek/core/diagnostics.h>
#include <avrek/data/arsenal_toml.h>

#include <span>

namespace avrek {

/// Returns one text with the values of several: the first, with those of the overlays after it written where
/// they belong. Comments, order and spelling of the first text stay; keys that it lacks come last in their
/// table, entries that it lacks at the end. Returns diagnostics if a text has a fault, or if a value cannot
/// be written into the first text.
///
///     const auto tidy = fold_overlays(tuned.texts());   // what weeks of tuning have come to
[[nodiscard]] Loaded<ArsenalText> fold_overlays(std::span<const ArsenalText> texts);

} // namespace avrek
