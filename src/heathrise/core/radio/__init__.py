"""Propagation, coverage, scores and channels.

Symbols: `loss_db` positive, `rssi_dbm` at the antenna port, `gain_dbi` over isotropic. Bands are
named 2.4, 5 and 6; arrays run over them in that order.
"""
