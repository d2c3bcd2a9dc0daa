"""What has to be seen to again and again: extinguishers, filters, gauges, gear."""
