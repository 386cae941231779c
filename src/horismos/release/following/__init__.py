"""A cut that follows its print: what the RIP reports is read, and the cut files are written for where the print lies.
"""

from horismos.release.following.as_it_lies import FollowedFile
from horismos.release.following.follow import Followed, follow
from horismos.release.following.released import Released, released_in
from horismos.release.following.rip_report import RipReport, rip_report_schema

__all__ = ["Followed", "FollowedFile", "Released", "RipReport", "follow", "released_in", "rip_report_schema"]
