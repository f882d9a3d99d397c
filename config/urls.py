"""Every address of the app."""

from django.urls import include, path

urlpatterns = [path("", include("studio.urls"))]
handler500 = "studio.http.broken"
