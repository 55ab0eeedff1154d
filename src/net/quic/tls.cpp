#include "tls.h"

#include <gnutls/crypto.h>
#include <ngtcp2/ngtcp2_crypto_gnutls.h>

#include <algorithm>
#include <array>
#include <cassert>

namespace avrek::detail {

namespace {

constexpr const char* protocol = "avrek";
constexpr unsigned greeting_extension = 65401; // for private use (RFC 8446, 11)
constexpr const char* priorities =
    "NORMAL:-VERS-ALL:+VERS-TLS1.3:-CIPHER-ALL:+AES-128-GCM:+CHACHA20-POLY1305:"
    "-GROUP-ALL:+GROUP-X25519:-SIGN-ALL:+SIGN-EDDSA-ED25519:"
    "-CTYPE-ALL:+CTYPE-SRV-RAWPK:+CTYPE-CLI-RAWPK:%DISABLE_TLS13_COMPAT_MODE";

// The usual coding of an Ed25519 key has these bytes before it (RFC 8410).
constexpr std::array<unsigned char, 12> public_head{0x30, 0x2a, 0x30, 0x05, 0x06, 0x03,
                                                    0x2b, 0x65, 0x70, 0x03, 0x21, 0x00};
constexpr std::array<unsigned char, 16> secret_head{0x30, 0x2e, 0x02, 0x01, 0x00, 0x30, 0x05, 0x06,
                                                    0x03, 0x2b, 0x65, 0x70, 0x04, 0x22, 0x04, 0x20};

TlsPeer& peer_of(gnutls_session_t session) {
    const auto* link = static_cast<ngtcp2_crypto_conn_ref*>(gnutls_session_get_ptr(session));
    return *static_cast<TlsPeer*>(link->user_data);
}

// The bytes of a key after its head; from a constant head and a key.
template <std::size_t size>
std::vector<unsigned char> coded(const std::array<unsigned char, size>& head, const std::byte* key) {
    std::vector<unsigned char> bytes(head.begin(), head.end());
    for (std::size_t index = 0; index < 32; ++index) {
        bytes.push_back(static_cast<unsigned char>(key[index]));
    }
    return bytes;
}

// Takes the key that the other end holds. What a client pins must be it.
int verify(gnutls_session_t session) {
    TlsPeer& peer = peer_of(session);
    unsigned count = 0;
    const gnutls_datum_t* keys = gnutls_certificate_get_peers(session, &count);
    if (gnutls_certificate_type_get2(session, GNUTLS_CTYPE_PEERS) != GNUTLS_CRT_RAWPK || keys == nullptr ||
        count != 1 || keys[0].size != public_head.size() + peer.key.size() ||
        !std::equal(public_head.begin(), public_head.end(), keys[0].data)) {
        return GNUTLS_E_CERTIFICATE_ERROR;
    }
    const auto* bytes = reinterpret_cast<const std::byte*>(keys[0].data + public_head.size());
    std::copy_n(bytes, peer.key.size(), peer.key.begin());
    if (!peer.is_server && peer.key != peer.pinned) {
        peer.refusal = "the server does not hold the key that the ticket names";
        return GNUTLS_E_CERTIFICATE_ERROR;
    }
    return 0;
}

int send_greeting(gnutls_session_t session, gnutls_buffer_t to) {
    const TlsPeer& peer = peer_of(session);
    return peer.is_server ? 0 : gnutls_buffer_append_data(to, peer.greeting.data(), peer.greeting.size());
}

int take_greeting(gnutls_session_t session, const unsigned char* bytes, std::size_t size) {
    TlsPeer& peer = peer_of(session);
    if (peer.is_server) {
        const auto* from = reinterpret_cast<const std::byte*>(bytes);
        peer.greeting.assign(from, from + size);
    }
    return 0;
}

// Before the handshake costs anything: strangers are turned away here.
int check_greeting(gnutls_session_t session) {
    TlsPeer& peer = peer_of(session);
    if (peer.check != nullptr && *peer.check) {
        peer.refusal = (*peer.check)(peer.greeting);
    }
    return peer.refusal.empty() ? 0 : GNUTLS_E_APPLICATION_ERROR_MIN;
}

} // namespace

void fill_random(void* bytes, std::size_t size) {
    const int fault = gnutls_rnd(GNUTLS_RND_NONCE, bytes, size);
    assert(fault == 0);
    (void)fault;
}

TlsCredentials::TlsCredentials(const KeyPair& keys) {
    gnutls_certificate_credentials_t made = nullptr;
    gnutls_priority_t order = nullptr;
    if (gnutls_certificate_allocate_credentials(&made) != 0 ||
        gnutls_priority_init(&order, priorities, nullptr) != 0) {
        return;
    }
    credentials_.reset(made);
    priority_.reset(order);
    auto open = coded(public_head, keys.open.data());
    auto secret = coded(secret_head, keys.secret.data());
    const gnutls_datum_t open_datum{open.data(), static_cast<unsigned>(open.size())};
    const gnutls_datum_t secret_datum{secret.data(), static_cast<unsigned>(secret.size())};
    if (gnutls_certificate_set_rawpk_key_mem(made, &open_datum, &secret_datum, GNUTLS_X509_FMT_DER, nullptr,
                                             0, nullptr, 0, 0) < 0) {
        credentials_.reset();
        return;
    }
    gnutls_certificate_set_verify_function(made, verify);
}

TlsCredentials::Session TlsCredentials::session(TlsPeer& peer, ngtcp2_crypto_conn_ref& link) const {
    gnutls_session_t made = nullptr;
    const unsigned role = peer.is_server ? GNUTLS_SERVER | GNUTLS_NO_AUTO_SEND_TICKET : GNUTLS_CLIENT;
    if (!credentials_ || gnutls_init(&made, role | GNUTLS_ENABLE_RAWPK) != 0) {
        return nullptr;
    }
    Session session{made};
    gnutls_session_set_ptr(made, &link);
    const gnutls_datum_t name{reinterpret_cast<unsigned char*>(const_cast<char*>(protocol)), 5};
    const bool is_made =
        gnutls_priority_set(made, priority_.get()) == 0 &&
        gnutls_credentials_set(made, GNUTLS_CRD_CERTIFICATE, credentials_.get()) == 0 &&
        gnutls_alpn_set_protocols(made, &name, 1, GNUTLS_ALPN_MANDATORY) == 0 &&
        gnutls_session_ext_register(made, "greeting", greeting_extension, GNUTLS_EXT_APPLICATION,
                                    take_greeting, send_greeting, nullptr, nullptr, nullptr,
                                    GNUTLS_EXT_FLAG_CLIENT_HELLO | GNUTLS_EXT_FLAG_TLS) == 0 &&
        (peer.is_server ? ngtcp2_crypto_gnutls_configure_server_session(made)
                        : ngtcp2_crypto_gnutls_configure_client_session(made)) == 0;
    if (!is_made) {
        return nullptr;
    }
    if (peer.is_server) {
        gnutls_certificate_server_set_request(made, GNUTLS_CERT_REQUIRE);
        gnutls_handshake_set_post_client_hello_function(made, check_greeting);
    }
    return session;
}

} // namespace avrek::detail
