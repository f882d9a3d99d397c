"""Mail: sent by the queue, so that nobody waits for its server, with hourly limits for each address and sender."""

import hashlib
from smtplib import SMTPException
from typing import Any

from django.contrib.auth.forms import PasswordResetForm
from django.core.cache import cache
from django.core.mail import send_mail
from django.template import loader

from studio.work import queue

__all__ = ["ForgottenForm", "may_send", "send"]

HOUR = 3600
FOR_ADDRESS = 3
"""Mails per hour to one address."""
FOR_ASKER = 20
"""Mails per hour asked for from one network address."""


@queue.task
def mail(subject: str, text: str, to: str) -> None:
    """Send a mail; to no address, nothing. Raises Later if its server does not accept it."""
    if to:
        try:
            send_mail(subject, text, None, [to])
        except (OSError, SMTPException) as error:
            raise queue.Later("The mail server does not answer") from error


def send(subject: str, text: str, to: str) -> None:
    """Queue a mail. Raises SheetError if the queue does not answer."""
    queue.put([queue.Job(0, "mail", {"subject": subject, "text": text, "to": to})])


def may_send(to: str, asker: str) -> bool:
    """Count a mail that someone asks for, and return whether it is within the hourly limit."""
    allowed = True
    for kind, who, most in (("to", to.lower(), FOR_ADDRESS), ("by", asker, FOR_ASKER)):
        key = f"mail-{kind}-{hashlib.sha256(who.encode()).hexdigest()}"
        cache.add(key, 0, HOUR)
        allowed &= cache.incr(key) <= most
    return allowed


class ForgottenForm(PasswordResetForm):
    """Sends its mail by the queue, or an equal job to nobody: the answer takes as long for every address."""

    sent = False

    def save(self, *args: Any, **kwargs: Any) -> None:
        """Queue the mails."""
        super().save(*args, **kwargs)
        if not self.sent:
            send("", "", "")

    def send_mail(
        self, subject_template_name: str, email_template_name: str, context: Any, from_email: Any, to_email: str,
        html_email_template_name: Any = None,
    ) -> None:  # fmt: skip
        """Queue one mail."""
        subject = "".join(loader.render_to_string(subject_template_name, context).splitlines())
        send(subject, loader.render_to_string(email_template_name, context), to_email)
        self.sent = True
