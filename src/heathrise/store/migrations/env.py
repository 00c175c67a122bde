"""Alembic's entry: runs migrations on the URL the caller hands over."""

from alembic import context
from sqlalchemy import create_engine, pool

from heathrise.store.tables import Base

engine = create_engine(context.config.attributes["url"], poolclass=pool.NullPool)
with engine.connect() as connection:
    context.configure(connection=connection, target_metadata=Base.metadata)
    with context.begin_transaction():
        context.run_migrations()
