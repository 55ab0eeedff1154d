// The one place where the parser itself is compiled; everyone else sees its declarations.
//
// The parser asserts, and in optimised builds assumes, a few things that a malformed file can break, such as
// `[}` in place of a value. Each of them is checked again right after and reported as an error, so both are
// taken out.
#undef NDEBUG
#define TOML_ASSERT(expression) static_cast<void>(0)
#define TOML_IMPLEMENTATION
#include <toml++/toml.h>
