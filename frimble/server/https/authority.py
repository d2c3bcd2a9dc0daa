"""A certificate authority of the room's own, made at first start, and the server's certificate that it signs.

A phone that trusts the authority once trusts the server under all its names; the authority's key never leaves the folder.
Source: RFC 5280 (basic constraints, key usage, subject alternative names); CA/Browser Forum Baseline Requirements 6.3.2
(a server's certificate lasts 398 days at most).
"""

import ipaddress
import os
from collections.abc import Sequence
from datetime import UTC, datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

_AUTHORITY_LASTS, _SERVER_LASTS = timedelta(days=3650), timedelta(days=397)
_RENEWED_BEFORE = timedelta(days=30)
AUTHORITY, AUTHORITY_KEY = "authority.crt", "authority.key"
SERVER, SERVER_KEY = "server.crt", "server.key"


def server_certificate(folder: Path, names: Sequence[str], now: datetime | None = None) -> tuple[Path, Path]:
    """(certificate, key) for these names, made anew where there is none, a name is missing, or it ends soon.

    Args:
        folder: holds authority and certificate, files 0600. names: host names and addresses.
    """
    now = now or datetime.now(UTC)
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    if not (folder / AUTHORITY).is_file():
        _make_authority(folder, now)
    if not _is_good(folder / SERVER, names, now):
        _make_server(folder, names, now)
    return folder / SERVER, folder / SERVER_KEY


def fingerprint(folder: Path) -> str:
    """SHA-256 of the authority's certificate as devices show it: pairs of digits with colons."""
    certificate = x509.load_pem_x509_certificate((folder / AUTHORITY).read_bytes())
    return certificate.fingerprint(hashes.SHA256()).hex(":").upper()


def _make_authority(folder: Path, now: datetime) -> None:
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, f"Frimble, made {now:%Y-%m-%d}")])
    usage = _usage(certificates=True)
    made = (
        _builder(name, name, key, now, _AUTHORITY_LASTS)
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(usage, critical=True)
        .sign(key, hashes.SHA256())
    )
    _write(folder / AUTHORITY_KEY, _pem(key))
    _write(folder / AUTHORITY, made.public_bytes(serialization.Encoding.PEM))


def _make_server(folder: Path, names: Sequence[str], now: datetime) -> None:
    authority = x509.load_pem_x509_certificate((folder / AUTHORITY).read_bytes())
    authority_key = serialization.load_pem_private_key((folder / AUTHORITY_KEY).read_bytes(), None)
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, names[0])])
    made = (
        _builder(authority.subject, name, key, now, _SERVER_LASTS)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(_usage(certificates=False), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .add_extension(x509.SubjectAlternativeName([_general(n) for n in names]), critical=False)
        .sign(authority_key, hashes.SHA256())
    )
    _write(folder / SERVER_KEY, _pem(key))
    _write(folder / SERVER, made.public_bytes(serialization.Encoding.PEM))


def _builder(issuer, subject, key, now, lasts) -> x509.CertificateBuilder:
    return (
        x509.CertificateBuilder()
        .issuer_name(issuer)
        .subject_name(subject)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + lasts)
    )


def _usage(certificates: bool) -> x509.KeyUsage:
    return x509.KeyUsage(
        digital_signature=True, key_cert_sign=certificates, crl_sign=certificates, content_commitment=False,
        key_encipherment=False, data_encipherment=False, key_agreement=False, encipher_only=False, decipher_only=False,
    )  # fmt: skip


def _general(name: str) -> x509.GeneralName:
    try:
        return x509.IPAddress(ipaddress.ip_address(name))
    except ValueError:
        return x509.DNSName(name)


def _is_good(path: Path, names: Sequence[str], now: datetime) -> bool:
    if not path.is_file():
        return False
    certificate = x509.load_pem_x509_certificate(path.read_bytes())
    held = set(certificate.extensions.get_extension_for_class(x509.SubjectAlternativeName).value)
    return {_general(n) for n in names} <= held and now + _RENEWED_BEFORE < certificate.not_valid_after_utc


def _pem(key) -> bytes:
    return key.private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    )


def _write(path: Path, data: bytes) -> None:
    handle = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
    with os.fdopen(handle, "wb") as file:
        file.write(data)
