"""Signing up, in and out, and the demo account's door."""

from django.conf import settings
from django.contrib import messages
from django.contrib.auth import get_user_model, login
from django.contrib.auth import views as auth
from django.contrib.auth.forms import UserCreationForm
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse_lazy
from django.views.decorators.http import require_http_methods, require_POST

DEMO_NAME = "demo"


def _styled(form):
    """Give the fields Bootstrap's look and tie errors to them."""
    for name, field in form.fields.items():
        field.widget.attrs["class"] = "form-control" + (" is-invalid" if form.errors.get(name) else "")
    return form


class SignIn(auth.LoginView):
    """Sign in; offers the demo door where it is open."""

    template_name = "registration/sign_in.html"
    redirect_authenticated_user = True
    extra_context = {"demo": settings.GOUGE_DEMO}

    def get_form(self, form_class=None):
        """Return the styled form."""
        return _styled(super().get_form(form_class))


class ChangePassword(auth.PasswordChangeView):
    """Change the password and go back to the projects."""

    template_name = "registration/password.html"
    success_url = reverse_lazy("projects")

    def get_form(self, form_class=None):
        """Return the styled form."""
        return _styled(super().get_form(form_class))

    def form_valid(self, form):
        """Say that it worked."""
        messages.success(self.request, "Your password is changed.")
        return super().form_valid(form)


@require_http_methods(["GET", "POST"])
def sign_up(request: HttpRequest) -> HttpResponse:
    """Make an account and sign in to it."""
    form = UserCreationForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        login(request, form.save())
        return redirect("projects")
    return render(request, "registration/sign_up.html", {"form": _styled(form)})


@require_POST
def demo_door(request: HttpRequest) -> HttpResponse:
    """Sign in to the demo account, which only `make demo` opens."""
    user = get_user_model().objects.filter(username=DEMO_NAME).first()
    if not settings.GOUGE_DEMO or user is None:
        raise Http404
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    return redirect("projects")
