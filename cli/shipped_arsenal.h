#pragma once

namespace avrek::cli {

/// The text of data/halm-ring.toml as it was when the tool was built.
extern const char* const shipped_arsenal_text;

} // namespace avrek::cli
