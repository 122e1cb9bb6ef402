"""Channels by which files arrive. A channel knows no desk: it hands each file to a function that keeps it."""

from zestpail.intake.arrived import Arrived, Keep, KeptBefore, NotKept

__all__ = ["Arrived", "Keep", "KeptBefore", "NotKept"]
