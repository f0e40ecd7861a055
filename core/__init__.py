"""The rules of the job: plain Python without interface, database, network or clock.

Every function takes what it needs, `now` included, and returns what should happen.
The live path, the sample on the sheet and every preview call the same functions.
"""
