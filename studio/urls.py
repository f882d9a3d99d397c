"""Addresses of the app."""

from django.contrib.auth import views as auth
from django.urls import path

from .views import account, colours, deliver, editor, photos, projects, silhouette, web

urlpatterns = [
    path("", projects.index, name="projects"),
    path("projects/new", projects.create, name="project_new"),
    path("projects/<int:pk>/rename", projects.rename, name="project_rename"),
    path("projects/<int:pk>/duplicate", projects.duplicate, name="project_duplicate"),
    path("projects/<int:pk>/delete", projects.delete, name="project_delete"),
    path("projects/<int:pk>/restore", projects.restore, name="project_restore"),
    path("projects/<int:pk>/recover", projects.recover, name="project_recover"),
    path("projects/open", projects.open_file, name="project_open"),
    path("projects/all", projects.everything, name="projects_all"),
    path("projects/<int:pk>/file", projects.file, name="project_file"),
    path("projects/<int:pk>/picture.png", projects.picture, name="project_picture"),
    path("p/<int:pk>/", editor.page, name="editor"),
    path("p/<int:pk>/command", editor.command, name="command"),
    path("p/<int:pk>/preview", editor.preview, name="preview"),
    path("p/<int:pk>/snaps", editor.snaps, name="snaps"),
    path("p/<int:pk>/held", editor.held, name="held"),
    path("p/<int:pk>/now", editor.now, name="now"),
    path("p/<int:pk>/template", editor.template, name="template"),
    path("p/<int:pk>/panels", editor.panels, name="panels"),
    path("p/<int:pk>/photos", photos.bring_in, name="bring_in"),
    path("p/<int:pk>/photos/many", photos.brought, name="brought"),
    path("p/<int:pk>/sample", colours.sampled, name="sample"),
    path("p/<int:pk>/colours", colours.colours, name="colours"),
    path("p/<int:pk>/silhouette", silhouette.silhouette, name="silhouette"),
    path("p/<int:pk>/lens", deliver.lens, name="lens"),
    path("p/<int:pk>/deliver", deliver.deliver, name="deliver"),
    path("p/<int:pk>/estimate", deliver.estimate, name="estimate"),
    path("p/<int:pk>/deliveries", deliver.deliveries, name="deliveries"),
    path("p/<int:pk>/deliveries/<int:number>/file", deliver.delivery_file, name="delivery_file"),
    path("p/<int:pk>/deliveries/<int:number>/picture.png", deliver.delivery_picture, name="delivery_picture"),
    path("p/<int:pk>/deliveries/<int:number>/stop", deliver.delivery_stop, name="delivery_stop"),
    path("p/<int:pk>/deliveries/<int:number>/forget", deliver.delivery_forget, name="delivery_forget"),
    path("p/<int:pk>/web", web.sample, name="web_sample"),
    path("photos/<str:sha256>/preview", photos.preview, name="photo_preview"),
    path("sign-in", account.SignIn.as_view(), name="sign_in"),
    path("sign-out", auth.LogoutView.as_view(), name="sign_out"),
    path("sign-up", account.sign_up, name="sign_up"),
    path("password", account.ChangePassword.as_view(), name="password_change"),
    path("demo-door", account.demo_door, name="demo_door"),
]
