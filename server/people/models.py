"""Where people are logged in, and how they like to see things. Accounts themselves are Django's own."""

from django.conf import settings
from django.db import models

__all__ = ["Habit", "LogIn"]


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
