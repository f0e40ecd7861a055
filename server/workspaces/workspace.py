"""A workspace: every other row belongs to one."""

from datetime import timedelta
from uuid import uuid4

from django.db import models

from .ids import new_id


class Workspace(models.Model):
    """One organisation's (or client's) world."""

    id = models.UUIDField(primary_key=True, default=new_id, editable=False)
    name = models.CharField(max_length=120)
    slug = models.SlugField(max_length=60, unique=True)
    time_zone = models.CharField(max_length=64, default="UTC")
    sender_name = models.CharField(max_length=120, blank=True)
    sender_address = models.EmailField(blank=True)
    reply_to = models.EmailField(blank=True)
    """Where replies go; empty: to the sender's address."""
    postal_address = models.CharField(max_length=300, blank=True)
    language = models.CharField(max_length=35, default="en")
    """Of messages that do not say theirs (BCP 47)."""
    house_style = models.JSONField(default=dict)
    """How letters look (`core.messages.HouseStyle`)."""
    counts_opens = models.BooleanField(default=False)
    counts_clicks = models.BooleanField(default=False)
    """Whether opens and clicks are counted, for messages that do not say it."""
    hourly_emails = models.PositiveIntegerField(null=True)
    """The most emails handed over within an hour; None: no limit."""
    hourly_per_domain = models.PositiveIntegerField(null=True)
    """The same for each receiving domain."""
    warms_up_from = models.DateField(null=True)
    """The first day of a new sender: the limits grow from a small number, doubling each day."""
    keeps_ip = models.BooleanField(default=False)
    asks_zone = models.BooleanField(default=False)
    """Whether forms ask visitors' browsers for their time zone."""
    country = models.CharField(max_length=2, blank=True)
    """Of phone numbers that name none (alpha-2)."""
    sending_times = models.JSONField(default=dict)
    """When marketing goes out, for sequences that do not say it (`core.sequences.SendingTimes`)."""
    email_gap_days = models.PositiveSmallIntegerField(default=0)
    """Days that lie between two marketing emails to one person at least; 0: none."""
    approves_broadcasts = models.BooleanField(default=False)
    """Whether a second member has to approve a broadcast before it goes."""
    attention_after = models.PositiveIntegerField(default=1)
    """How often something has to go wrong with a thing until it needs attention."""
    many_in_a_day = models.PositiveIntegerField(default=100)
    """How many people have to enter or leave a sequence within a day for members to be told."""
    retention_days = models.PositiveIntegerField(null=True)
    """Days after which answers, context and raw bodies of submissions go; never, if None."""
    clock_offset = models.DurationField(default=timedelta)
    """How far the time of this workspace is ahead of the real one; zero but in demo and tests."""
    catalogue_version = models.UUIDField(default=uuid4)
    """Another one after each change of what documents may refer to, so that it can be kept in
    memory. It never comes again: what a rolled-back change had is never taken for a later one."""
    created_at = models.DateTimeField(auto_now_add=True)
