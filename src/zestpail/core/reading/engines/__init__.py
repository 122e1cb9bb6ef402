"""The two readers, and the slow best way of the second one."""
