"""Runs migrations on the connection it is handed."""

from alembic import context

from humble_relay.store.tables import Base

context.configure(connection=context.config.attributes["connection"], target_metadata=Base.metadata)
with context.begin_transaction():
    context.run_migrations()
