"""Withdrawing a calibrated time."""

from django import forms

from frimble.screens.steps.forms import ActForm


class WithdrawForm(ActForm):
    reason = forms.CharField(label="What was wrong with it", max_length=300)
