#pragma once
#include "connection.h"

namespace avrek::detail {

/// Returns the functions by which ngtcp2 calls a QuicConnection, which is its user data.
const ngtcp2_callbacks& quic_callbacks();

} // namespace avrek::detail
