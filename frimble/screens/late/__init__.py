"""Records that a device kept while it had no network: taken once each, with the moment they happened."""
