#pragma once
#include <avrek/tuning/duel.h>

#include <string>

namespace avrek::cli {

/// The script for gnuplot: a chequerboard of win rates for each of the first six distances.
std::string duel_script(const DuelMatrix& matrix, const std::string& title);

} // namespace avrek::cli
