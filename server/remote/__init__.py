"""Steps that workers on other machines carry out: asked for through a broker, content through the store.

Celery is the engine. This room is imported where a broker is set, and by the workers, which need no database.
"""
