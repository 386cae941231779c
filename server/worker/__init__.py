"""Long work: queued by the web, done by the task worker, with progress, and stopped when somebody asks."""
