"""The computation of Dechirer: pure functions over frozen values, without Qt or any interface code.

Lengths are millimetres as floats, y runs down, the origin of a sheet is its top left corner seen from the
side that is cut. `plan.py` calls the stations (`brief`, `construct`, `lay`, `run`) in order.
"""
