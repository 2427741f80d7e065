"""Searches and plans: what is proposed, what is advised, what is to come."""
