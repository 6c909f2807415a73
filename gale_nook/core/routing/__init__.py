"""Finding routes for whatever runs from one place to another: where from, how, and proved by what.

`free_space` says where the middle of a run may be; `grid_search` leads a run of straights and
bends through it; `families` draws the usual simple shapes; `proving` fits out one candidate after
another and keeps those that the checks let pass. What a kind of run brings (limits, costs, ends,
what sits on it, its checks) is handed in by its station.
"""
