from django.apps import AppConfig


class TrainingConfig(AppConfig):
    name = "frimble.training"

    def ready(self):
        """Training is found beside the line; a step may ask for a signed skill, and reminds of one that has faded."""
        from frimble.jobs.frame.line import add_side_stop
        from frimble.screens import reminders, requirements
        from frimble.training import fading, signing

        add_side_stop("Training", "training:training")
        requirements.add(signing.missing_skill)
        reminders.add(fading.reminder)
