#pragma once
#include <avrek/tuning/weapon_card.h>

#include <string>

namespace avrek::cli {

/// A script for gnuplot: the half-angle of the cone while firing and recovering, and the recoil path beside
/// it.
std::string card_plot(const WeaponSpec& weapon, const WeaponCard& card);

} // namespace avrek::cli
