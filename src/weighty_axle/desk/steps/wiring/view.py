"""Wiring: every conductor, joint and fuse from the packs to the last light."""

from __future__ import annotations

from weighty_axle.desk.kit.leaves import StepView


class WiringView(StepView):
    """Every conductor, joint and fuse from the packs to the last light."""

    leaf_classes = (
        ("Tree", "paths.PathsLeaf"),
        ("Runs", "runs.WiringLeaf"),
        ("Protection", "protection.ProtectionLeaf"),
        ("Pre-charge", "precharge.PrechargeLeaf"),
        ("Feeds", "feeds.FeedsLeaf"),
        ("AC and bonding", "earthing.EarthingLeaf"),
        ("AC cables", "ac_cables.AcCablesLeaf"),
        ("Signals", "signals.SignalsLeaf"),
        ("Joints", "joints.JointsLeaf"),
        ("House circuits", "dc_circuits.DcCircuitsLeaf"),
    )
