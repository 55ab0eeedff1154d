#pragma once
#include <avrek/net/transport.h>

#include <gnutls/gnutls.h>
#include <ngtcp2/ngtcp2_crypto.h>

#include <memory>
#include <optional>
#include <string>
#include <vector>

/// TLS 1.3 for QUIC, by GnuTLS: both ends prove to hold an Ed25519 key (raw public keys, RFC 7250), and the
/// client's first message carries a greeting, in an extension of our own.
namespace avrek::detail {

/// Fills bytes with random numbers of the system.
void fill_random(void* bytes, std::size_t size);

/// State of TLS for one connection. GnuTLS refers to it.
struct TlsPeer {
    ngtcp2_conn* connection = nullptr;
    bool is_server = false;
    std::vector<std::byte> greeting{}; ///< the client's own, or as a server has received it
    const GreetingCheck* check = nullptr;
    PublicKey pinned{}; ///< key that the server must hold; clients set it
    PublicKey key{};    ///< that the peer has proved to hold, once the handshake is over
    std::string refusal{};
};

/// Keys of one end and how it speaks TLS, for all its connections.
class TlsCredentials {
  public:
    explicit TlsCredentials(const KeyPair& keys);

    struct SessionEnd {
        void operator()(gnutls_session_int* session) const { gnutls_deinit(session); }
    };
    using Session = std::unique_ptr<gnutls_session_int, SessionEnd>;

    /// Returns a session, or null. `link` must outlive it, and its `user_data` must be the TlsPeer.
    Session session(TlsPeer& peer, ngtcp2_crypto_conn_ref& link) const;

  private:
    struct CredentialsEnd {
        void operator()(gnutls_certificate_credentials_st* ended) const {
            gnutls_certificate_free_credentials(ended);
        }
    };
    struct PriorityEnd {
        void operator()(gnutls_priority_st* ended) const { gnutls_priority_deinit(ended); }
    };
    std::unique_ptr<gnutls_certificate_credentials_st, CredentialsEnd> credentials_{};
    std::unique_ptr<gnutls_priority_st, PriorityEnd> priority_{};
};

} // namespace avrek::detail
