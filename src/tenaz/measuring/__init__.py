"""How fast this machine is: streams, chains and arithmetic, each by itself on one core or all, its noise known."""
