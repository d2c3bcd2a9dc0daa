from django.urls import path

from frimble.jobs import live, views
from frimble.jobs.choosing import views as choosing_views
from frimble.jobs.cost.views import cost
from frimble.jobs.day import views as day_views
from frimble.jobs.day.hours.views import hours
from frimble.jobs.day.session import session
from frimble.jobs.lead.views import lead
from frimble.jobs.losses import views as loss_views
from frimble.jobs.refused.views import refused
from frimble.jobs.separated.views import separations
from frimble.jobs.setup.views import setup
from frimble.jobs.supplies import views as supply_views
from frimble.jobs.upkeep import views as upkeep_views

app_name = "jobs"

urlpatterns = [
    path("", views.show_today, name="today"),
    path("room/", setup, name="setup"),
    path("find/", views.slate, name="slate"),
    path("changes/", live.changes, name="changes"),
    path("alive/", views.alive, name="alive"),
    path("jobs/", views.jobs, name="jobs"),
    path("day/", day_views.day, name="day"),
    path("day/hours/", hours, name="hours"),
    path("day/calendar.ics", day_views.calendar, name="day-calendar"),
    path("jobs/new/", views.new_job, name="new-job"),
    path("jobs/screens/", choosing_views.week, name="week"),
    path("jobs/coated/", views.coated, name="coated"),
    path("lead-time/", lead, name="lead"),
    path("upkeep/", upkeep_views.upkeep, name="upkeep"),
    path("handover/", upkeep_views.handover, name="handover"),
    path("supplies/", supply_views.supplies, name="supplies"),
    path("supplies/list.csv", supply_views.shopping_list, name="shopping-list"),
    path("supplies/<int:pk>/", supply_views.supply, name="supply"),
    path("supplies/<int:pk>/sheet.pdf", supply_views.safety_sheet, name="safety-sheet"),
    path("refused/", refused, name="refused"),
    path("losses/", loss_views.losses, name="losses"),
    path("losses/trials/<int:pk>/", loss_views.trial, name="trial"),
    path("jobs/<str:number>/screens/<int:pk>/", choosing_views.choose, name="choose"),
    path("jobs/<str:number>/separations/", separations, name="separations"),
    path("jobs/<str:number>/session/", session, name="session"),
    path("jobs/<str:number>/cost/", cost, name="cost"),
    path("jobs/<str:number>/", views.job, name="job"),
    path("photos/<int:pk>.png", views.photo, name="photo"),
]
