"""Two doors: the API, and the one page that the frontend lives in."""

from django.urls import path, re_path

from grandlarder.page import nothing_here, page

from .api import api

handler400 = "grandlarder.page.bad_request"
handler403 = "grandlarder.page.forged"
handler404 = "grandlarder.page.nothing_here"
handler500 = "grandlarder.page.fault"

urlpatterns = [
    path("api/", api.urls),
    re_path(r"^api/", nothing_here),
    re_path(r"^(?!api/|static/)", page),
]
