#pragma once
#include "range_options.h"
#include <avrek/arsenal/arsenal.h>

namespace avrek::cli {

/// `avrek range` in a level: what is fired, every leg of its way and what it does. One of `weapon` and
/// `melee` is not null. Throws WrongCall when the options do not go together or something cannot be read.
void run_level_range(Arsenal arsenal, const WeaponSpec* weapon, const MeleeSpec* melee,
                     const RangeOptions& options);

} // namespace avrek::cli
