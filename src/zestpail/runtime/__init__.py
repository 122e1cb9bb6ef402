"""Starting and stopping: the private PostgreSQL, the web process and the workers."""
