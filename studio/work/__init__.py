"""Work that takes long: the queue, its tasks, the worker processes."""

__all__ = ["memory", "parent", "queue", "tasks", "worker", "worker_pool"]
