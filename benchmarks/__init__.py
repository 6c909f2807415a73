"""Timings, each as a ratio against a named baseline measured in the same run. Run: .venv/bin/python
-m benchmarks
"""
