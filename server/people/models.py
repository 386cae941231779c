"""Where people are logged in, how they like to see things, who is invited. Accounts themselves are Django's own."""

from django.conf import settings
from django.contrib.auth.models import Group
from django.db import models
from jobs.store.rights import SAYS, Right, codename

__all__ = ["Habit", "Invite", "LogIn"]


class LogIn(models.Model):
    """One log-in of a person: a session, from where, with which browser. It ends when its session does."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="log_ins")
    session = models.CharField(max_length=40, unique=True)
    address = models.CharField(max_length=45)
    browser = models.CharField(max_length=200, blank=True)
    began = models.DateTimeField(auto_now_add=True)
    seen = models.DateTimeField(auto_now=True)


class Habit(models.Model):
    """How a person likes to see things, on whatever screen."""

    user = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="habit")
    unit = models.CharField(max_length=2, default="mm", choices=[("mm", "millimetres"), ("in", "inches")])


class Invite(models.Model):
    """A link by which one person joins the shop, once and for a while. The link itself is kept nowhere."""

    digest = models.CharField(max_length=64, unique=True)
    roles = models.ManyToManyField(Group, related_name="+")
    note = models.CharField(max_length=100, blank=True)
    who = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")
    made = models.DateTimeField(auto_now_add=True)
    ends = models.DateTimeField()
    used = models.DateTimeField(null=True)

    class Meta:
        """The rights are kept here as Django's permissions; groups, the roles, are made of them."""

        permissions = [(codename(right), f"May {SAYS[right]}") for right in Right]
