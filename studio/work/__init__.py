"""Work that takes long: the queue, its tasks, the worker processes."""
