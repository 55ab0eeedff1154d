#pragma once
#include <avrek/arsenal/arsenal.h>

/// Places of entries, for a fight that goes on with another arsenal.
namespace avrek {

/// Returns whether every entry of `was` has the same place in `is`, so that ids of `was` are ids of `is`.
bool keeps_places(const Arsenal& was, const Arsenal& is);

/// Returns `is` with its entries at the places that those of the same names have in `was`. Entries that only
/// `was` has keep their values; those that only `is` has come last. Ammunition types and references are set
/// anew.
Arsenal with_places_of(const Arsenal& was, Arsenal is);

} // namespace avrek
