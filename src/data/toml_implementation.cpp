// The one place where the parser itself is compiled; everyone else sees its declarations.
#define TOML_IMPLEMENTATION
#include <toml++/toml.h>
