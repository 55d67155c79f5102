"""Two doors: the API, and the one page that the frontend lives in."""

from django.urls import path, re_path

from api import api
from grandlarder.page import nothing_here, page

urlpatterns = [
    path("api/", api.urls),
    re_path(r"^api/", nothing_here),
    re_path(r"^(?!api/|static/)", page),
]
