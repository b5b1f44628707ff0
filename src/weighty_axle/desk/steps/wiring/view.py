"""Wiring: the main DC runs, their conductors and fuses."""

from __future__ import annotations

from weighty_axle.desk.kit.leaves import StepView


class WiringView(StepView):
    """The main dc runs, their conductors and fuses."""

    leaf_classes = (
        ("Runs", "runs.WiringLeaf"),
        ("Tree", "paths.PathsLeaf"),
        ("Protection", "protection.ProtectionLeaf"),
        ("Pre-charge", "precharge.PrechargeLeaf"),
        ("Feeds", "feeds.FeedsLeaf"),
        ("AC and bonding", "earthing.EarthingLeaf"),
        ("Signals", "signals.SignalsLeaf"),
        ("Joints", "joints.JointsLeaf"),
        ("House circuits", "dc_circuits.DcCircuitsLeaf"),
    )
