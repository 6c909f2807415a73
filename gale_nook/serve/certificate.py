"""The certificate for the local network: an authority of this machine's own, made once, and under
it a certificate for the addresses that it has now.

A phone trusts the authority once; what changes is only what that has signed.
"""

from __future__ import annotations

import hashlib
import ipaddress
import os
import socket
import ssl
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

FOLDER = "tls"
AUTHORITY, AUTHORITY_KEY = "authority.pem", "authority.key"
SERVER, SERVER_KEY = "server.pem", "server.key"
AUTHORITY_LIVES, SERVER_LIVES = timedelta(days=3650), timedelta(days=397)
RENEWED_BEFORE = timedelta(days=30)
BACKDATED = timedelta(hours=1)  # clocks of phones differ
# the authority can vouch for addresses at home only, and for those that it was made for, whoever
# gets hold of its key
PRIVATE = ("10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "169.254.0.0/16", "127.0.0.0/8")
OWNER_ONLY = 0o600


@dataclass(frozen=True)
class Letters:
    """What a server shows of itself.

    Attributes:
        authority_pem: to be trusted by phones.
        fingerprint, authority_fingerprint: SHA-256, in pairs of hexadecimal digits.
    """

    folder: Path
    authority_pem: bytes
    fingerprint: str
    authority_fingerprint: str

    def context(self) -> ssl.SSLContext:
        """Return what a server needs to serve with it."""
        context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
        context.minimum_version = ssl.TLSVersion.TLSv1_2
        context.load_cert_chain(self.folder / SERVER, self.folder / SERVER_KEY)
        return context


def made(folder: Path, addresses: Sequence[str], now: datetime | None = None) -> Letters:
    """Return the letters in a folder, made or renewed where that is needed."""
    moment = now or datetime.now(UTC)
    folder.mkdir(parents=True, exist_ok=True)
    folder.chmod(0o700)
    if not _vouches(folder, addresses, moment):
        _make_authority(folder, addresses, moment)
    if not _serves(folder, addresses, moment):
        _make_server(folder, addresses, moment)
    return known(folder)


def known(folder: Path) -> Letters:
    """Return the letters in a folder where they are made already."""
    authority = (folder / AUTHORITY).read_bytes()
    return Letters(
        folder, authority, _fingerprint((folder / SERVER).read_bytes()), _fingerprint(authority)
    )


def _make_authority(folder: Path, addresses: Sequence[str], now: datetime) -> None:
    key = ec.generate_private_key(ec.SECP256R1())
    name = _name(f"Gale Nook on {socket.gethostname()[:40]}")
    networks = [ipaddress.ip_network(each) for each in (*PRIVATE, *_abroad(addresses))]
    constraints = [x509.IPAddress(network) for network in networks]
    certificate = (
        _begun(name, name, key.public_key(), now, AUTHORITY_LIVES)
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(x509.NameConstraints(constraints, None), critical=True)
        .add_extension(_usage(signs=True), critical=True)
        .sign(key, hashes.SHA256())
    )
    _write(folder / AUTHORITY_KEY, _private(key))
    _write(folder / AUTHORITY, certificate.public_bytes(serialization.Encoding.PEM))
    (folder / SERVER).unlink(missing_ok=True)


def _make_server(folder: Path, addresses: Sequence[str], now: datetime) -> None:
    authority = x509.load_pem_x509_certificate((folder / AUTHORITY).read_bytes())
    signer = serialization.load_pem_private_key((folder / AUTHORITY_KEY).read_bytes(), None)
    if not isinstance(signer, ec.EllipticCurvePrivateKey):
        raise TypeError("the authority's key is of another kind")
    key = ec.generate_private_key(ec.SECP256R1())
    names = [x509.IPAddress(ipaddress.ip_address(each)) for each in (*addresses, "127.0.0.1")]
    purposes = x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH])
    certificate = (
        _begun(_name("Gale Nook"), authority.subject, key.public_key(), now, SERVER_LIVES)
        .add_extension(x509.SubjectAlternativeName(names), critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(purposes, critical=False)
        .add_extension(_usage(signs=False), critical=True)
        .sign(signer, hashes.SHA256())
    )
    _write(folder / SERVER_KEY, _private(key))
    _write(folder / SERVER, certificate.public_bytes(serialization.Encoding.PEM))


def _begun(
    subject: x509.Name,
    issuer: x509.Name,
    key: ec.EllipticCurvePublicKey,
    now: datetime,
    lives: timedelta,
) -> x509.CertificateBuilder:
    return (
        x509.CertificateBuilder()
        .subject_name(subject)
        .issuer_name(issuer)
        .public_key(key)
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - BACKDATED)
        .not_valid_after(now + lives)
    )


def _name(words: str) -> x509.Name:
    return x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, words)])


def _usage(*, signs: bool) -> x509.KeyUsage:
    return x509.KeyUsage(
        digital_signature=not signs,
        content_commitment=False,
        key_encipherment=False,
        data_encipherment=False,
        key_agreement=False,
        key_cert_sign=signs,
        crl_sign=signs,
        encipher_only=False,
        decipher_only=False,
    )


def _abroad(addresses: Sequence[str]) -> list[str]:
    """The addresses that are none of those at home."""
    home = [ipaddress.ip_network(each) for each in PRIVATE]
    return [a for a in addresses if not any(ipaddress.ip_address(a) in each for each in home)]


def _vouches(folder: Path, addresses: Sequence[str], now: datetime) -> bool:
    """Whether there is an authority that may vouch for all of these addresses."""
    if not (folder / AUTHORITY).exists() or _ends(folder / AUTHORITY) <= now:
        return False
    authority = x509.load_pem_x509_certificate((folder / AUTHORITY).read_bytes())
    told = authority.extensions.get_extension_for_class(x509.NameConstraints).value
    networks = [each.value for each in told.permitted_subtrees or [] if hasattr(each, "value")]
    return all(any(ipaddress.ip_address(a) in each for each in networks) for a in addresses)


def _serves(folder: Path, addresses: Sequence[str], now: datetime) -> bool:
    """Whether there is a certificate for all of these addresses that lasts for a while."""
    if not (folder / SERVER).exists() or not (folder / SERVER_KEY).exists():
        return False
    certificate = x509.load_pem_x509_certificate((folder / SERVER).read_bytes())
    names = certificate.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    there = {str(each) for each in names.get_values_for_type(x509.IPAddress)}
    return set(addresses) <= there and _ends(folder / SERVER) > now + RENEWED_BEFORE


def _ends(file: Path) -> datetime:
    return x509.load_pem_x509_certificate(file.read_bytes()).not_valid_after_utc


def _fingerprint(pem: bytes) -> str:
    der = x509.load_pem_x509_certificate(pem).public_bytes(serialization.Encoding.DER)
    digits = hashlib.sha256(der).hexdigest().upper()
    return ":".join(digits[n : n + 2] for n in range(0, len(digits), 2))


def _private(key: ec.EllipticCurvePrivateKey) -> bytes:
    return key.private_bytes(
        serialization.Encoding.PEM,
        serialization.PrivateFormat.PKCS8,
        serialization.NoEncryption(),
    )


def _write(file: Path, data: bytes) -> None:
    """Write a file that only its owner can read, whole or not at all."""
    fresh = file.with_name(f".{file.name}.new")
    fresh.unlink(missing_ok=True)
    with os.fdopen(os.open(fresh, os.O_WRONLY | os.O_CREAT | os.O_EXCL, OWNER_ONLY), "wb") as out:
        out.write(data)
    fresh.replace(file)
