"""Every address of the app."""

from django.urls import include, path

urlpatterns = [path("", include("studio.urls"))]
handler400 = "studio.http.unreadable"
handler404 = "studio.http.missing"
handler500 = "studio.http.broken"
