from api.api import api
from django.urls import path, re_path

from .views import page

urlpatterns = [
    path("api/", api.urls),
    re_path(r"^(?!api/|assets/|static/).*$", page),
]
