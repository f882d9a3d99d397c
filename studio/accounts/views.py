"""Signing up, in and out, account settings, closing an account, and the demo account."""

import email
from contextlib import suppress
from email import policy
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib import messages
from django.contrib.auth import get_user_model, login, logout
from django.contrib.auth import views as auth
from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse_lazy
from django.views.decorators.debug import sensitive_post_parameters
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from sheet import SheetError
from studio.models import OwnFile
from studio.operations import retention

from .forms import Address, Closing, SignUp, styled
from .lockout import address
from .mail import ForgottenForm, may_send, send

DEMO_NAME = "demo"
BACKEND = "django.contrib.auth.backends.ModelBackend"


class _Styled:
    """A view whose form is styled."""

    def get_form(self, form_class: Any = None) -> Any:
        """Return the styled form."""
        return styled(super().get_form(form_class))  # type: ignore[misc]


class SignIn(_Styled, auth.LoginView):
    """Sign in; offers the demo account if it is open."""

    template_name = "registration/sign_in.html"
    redirect_authenticated_user = True
    extra_context = {"demo": settings.GOUGE_DEMO}


class ChangePassword(_Styled, auth.PasswordChangeView):
    """Change the password and go back to the account."""

    template_name = "registration/password.html"
    success_url = reverse_lazy("account")

    def form_valid(self, form: Any) -> HttpResponse:
        """Confirm it."""
        messages.success(self.request, "Your password is changed.")
        return super().form_valid(form)


class Forgotten(_Styled, auth.PasswordResetView):
    """Mail a link to replace a forgotten password."""

    template_name = "registration/forgotten.html"
    form_class = ForgottenForm
    email_template_name = "registration/forgotten_mail.txt"
    subject_template_name = "registration/forgotten_subject.txt"
    success_url = reverse_lazy("sign_in")

    def form_valid(self, form: Any) -> HttpResponse:
        """Answer the same whether or not the account exists."""
        answer: HttpResponse = redirect(self.success_url)
        if may_send(form.cleaned_data["email"], address(self.request)):
            try:
                answer = super().form_valid(form)
            except SheetError as error:
                form.add_error(None, f"{error.message} {error.remedy}")
                return self.form_invalid(form)
        messages.success(
            self.request,
            "If an account has that address, a mail with a link is on its way to it. Ask again if it does not come.",
        )
        return answer


class NewPassword(_Styled, auth.PasswordResetConfirmView):
    """Set a new password for someone who followed the link of such a mail."""

    template_name = "registration/new_password.html"
    success_url = reverse_lazy("sign_in")

    def form_valid(self, form: Any) -> HttpResponse:
        """Confirm it, and allow signing in again."""
        from axes.utils import reset

        reset(username=self.user.get_username())
        messages.success(self.request, "Your password is changed. Sign in with it.")
        return super().form_valid(form)


@sensitive_post_parameters()
@require_http_methods(["GET", "POST"])
def sign_up(request: HttpRequest) -> HttpResponse:
    """Make an account and sign in to it."""
    form = SignUp(request.POST or None)
    if request.method == "POST" and form.is_valid():
        login(request, form.save(), backend=BACKEND)
        return redirect("projects")
    return render(request, "registration/sign_up.html", {"form": styled(form)})


@login_required
@require_http_methods(["GET", "POST"])
def account(request: HttpRequest) -> HttpResponse:
    """Show what an account contains, and change its address."""
    before = request.user.email
    form = Address(request.POST or None, instance=request.user)
    if request.method == "POST" and form.is_valid():
        form.save()
        if before and before != request.user.email:
            # the old address is told
            message = f"The mail address of your Gouge account “{request.user.get_username()}” was changed."
            with suppress(SheetError):
                send("Your address was changed", message, before)
        messages.success(request, "Address saved." if request.user.email else "Address removed.")
        return redirect("account")
    context = {"form": styled(form), "counts": retention.belongings(request.user), "days": retention.DAYS}
    own = request.user.own_files.order_by("name", "id")
    context["own_files"] = [(f"Your {word}s", own.filter(use=use)) for use, word in OwnFile.USES]
    return render(request, "registration/account.html", context)


@sensitive_post_parameters()
@login_required
@require_http_methods(["GET", "POST"])
def close(request: HttpRequest) -> HttpResponse:
    """Delete an account with everything in it."""
    form = Closing(request.POST or None)
    if request.method == "POST" and form.is_valid():
        if settings.GOUGE_DEMO and request.user.get_username() == DEMO_NAME:
            form.add_error(None, "The demo’s account can’t be closed.")
        elif not request.user.check_password(form.cleaned_data["password"]):
            form.add_error("password", "Wrong password. Nothing was deleted.")
        else:
            owner = request.user
            logout(request)
            retention.close(owner)
            messages.success(
                request, f"The account “{owner.get_username()}” is closed, and everything in it was deleted."
            )
            return redirect("sign_in")
    context = {"form": styled(form), "counts": retention.belongings(request.user)}
    return render(request, "registration/close.html", context, status=422 if form.errors else 200)


@require_GET
def post_box(request: HttpRequest) -> HttpResponse:
    """Show the mail that the demo's server sent, newest first."""
    if not settings.GOUGE_DEMO:
        raise Http404
    folder = Path(settings.EMAIL_FILE_PATH)
    files = sorted(folder.glob("*.log"), key=lambda f: f.stat().st_mtime, reverse=True) if folder.is_dir() else []
    mails = []
    for file in files[:30]:
        # the backend writes a line of hyphens between mails
        for data in file.read_bytes().split(b"\n" + b"-" * 79 + b"\n"):
            mail = email.message_from_bytes(data.lstrip(), policy=policy.default)
            if mail["Subject"]:
                mails.append({"to": mail["To"], "subject": mail["Subject"], "text": mail.get_content()})
    return render(request, "registration/post_box.html", {"mails": mails})


@require_POST
def demo_sign_in(request: HttpRequest) -> HttpResponse:
    """Sign in to the demo account, which only `make demo` opens."""
    user = get_user_model().objects.filter(username=DEMO_NAME).first()
    if not settings.GOUGE_DEMO or user is None:
        raise Http404
    login(request, user, backend=BACKEND)
    return redirect("projects")
