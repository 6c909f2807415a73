"""The role that the web and worker processes use: it reads and writes rows, and can change no table
and no role.
"""

from __future__ import annotations

import re

from sqlalchemy import Engine, text

_NAME = re.compile(r"[a-z_]{1,40}")
_PASSWORD = re.compile(r"[A-Za-z0-9_-]{16,80}")


def let_in(engine: Engine, role: str, password: str) -> None:
    """Make the role if need be and give it just what it needs; repeatable.

    Args:
        engine: of the owner of the tables.
        password: of URL-safe letters, for roles are not made with parameters.
    """
    if not _NAME.fullmatch(role) or not _PASSWORD.fullmatch(password):
        raise ValueError("a role has a plain name and a generated password")
    with engine.begin() as connection:
        if (
            connection.scalar(text("SELECT 1 FROM pg_roles WHERE rolname = :role"), {"role": role})
            is None
        ):
            connection.execute(text(f"CREATE ROLE {role}"))
        database = connection.scalar(text("SELECT current_database()"))
        for statement in (
            (
                f"ALTER ROLE {role} LOGIN NOSUPERUSER NOCREATEDB NOCREATEROLE NOREPLICATION "
                f"NOBYPASSRLS PASSWORD '{password}'"
            ),
            f'REVOKE ALL ON DATABASE "{database}" FROM PUBLIC',
            f'GRANT CONNECT ON DATABASE "{database}" TO {role}',
            "REVOKE ALL ON SCHEMA public FROM PUBLIC",
            f"GRANT USAGE ON SCHEMA public TO {role}",
            f"GRANT SELECT, INSERT, UPDATE, DELETE ON ALL TABLES IN SCHEMA public TO {role}",
            f"REVOKE ALL ON TABLE alembic_version FROM {role}",
            f"GRANT USAGE ON ALL SEQUENCES IN SCHEMA public TO {role}",
        ):
            connection.execute(text(statement))
