"""Untrusted files are read in a child process with limits on time, memory and processor."""
