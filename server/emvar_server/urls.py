from django.urls import path, re_path

from builds.api import api

from .views import page

urlpatterns = [
    path("api/", api.urls),
    re_path(r"^(?!api/|assets/|static/).*$", page),
]
