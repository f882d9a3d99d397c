"""The forms of an account."""

from typing import Any

from django import forms
from django.contrib.auth import get_user_model
from django.contrib.auth.forms import UserCreationForm

__all__ = ["Address", "Closing", "SignUp", "styled"]


def styled(form: Any) -> Any:
    """Return a form with Bootstrap's styles and its errors tied to its fields."""
    for name, field in form.fields.items():
        field.widget.attrs["class"] = "form-control" + (" is-invalid" if form.errors.get(name) else "")
    return form


class SignUp(UserCreationForm):
    """A new account; its address is only for a forgotten password."""

    email = forms.EmailField(required=False, help_text="Optional. We send a link here if you forget your password.")

    class Meta(UserCreationForm.Meta):
        fields = ("username", "email")


class Address(forms.ModelForm):
    """The address for mail."""

    email = forms.EmailField(label="Mail address", required=False)
    password = forms.CharField(
        widget=forms.PasswordInput(attrs={"autocomplete": "current-password"}), label="Your password"
    )

    class Meta:
        model = get_user_model()
        fields = ("email",)

    def clean_password(self) -> str:
        """Return the password if it is right: someone at an open window cannot take the account over."""
        password: str = self.cleaned_data["password"]
        if not self.instance.check_password(password):
            raise forms.ValidationError("Wrong password. The address was not changed.")
        return password


class Closing(forms.Form):
    """The password that closes an account."""

    password = forms.CharField(
        widget=forms.PasswordInput(attrs={"autocomplete": "current-password"}), label="Your password"
    )
