"""What a still address shows, before any swing."""

from __future__ import annotations

from finearc.core.metrics import registry as m

AT_ADDRESS = frozenset(
    {
        m.LEAD_WRIST_EXTENSION,
        m.LEAD_WRIST_DEVIATION,
        m.TRAIL_WRIST_EXTENSION,
        m.PELVIS_TURN,
        m.THORAX_TURN,
        m.SHOULDER_LINE_TURN,
        m.PELVIS_FORWARD_BEND,
        m.PELVIS_SIDE_BEND,
        m.THORAX_FORWARD_BEND,
        m.SPINE_LEAN,
        m.POSTURE_FROM_GROUND,
        m.HIPS_OVER_ANKLES,
        m.LEAD_KNEE_FLEXION,
        m.TRAIL_KNEE_FLEXION,
        m.LEAD_FOOT_FLARE,
        m.TRAIL_FOOT_FLARE,
        m.STANCE_WIDTH,
        m.LEAD_SHARE,
        m.LEAD_HEEL_TOE,
        m.TRAIL_HEEL_TOE,
        m.STANCE_POSITION,
        m.BALANCE_SPEED,
        m.PRESSURE_ELLIPSE,
    }
)
