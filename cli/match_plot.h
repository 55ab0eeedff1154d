#pragma once
#include <avrek/net/link_trial.h>

#include <string>

namespace avrek::cli {

/// A script that draws what the network did: above, what became of the hits that each client showed; below,
/// the times to kill as seen, judged and felt.
std::string match_script(const LinkTrialReport& report, const std::string& title);

} // namespace avrek::cli
