"""The desk: the Qt application. Views draw the plan; they never compute it."""
