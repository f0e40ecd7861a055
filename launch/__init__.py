"""Starting everything on one machine: packages, PostgreSQL, Python, the front end, processes.

Only the standard library is used, since this runs before anything is installed.
"""
