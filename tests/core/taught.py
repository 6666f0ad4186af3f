"""Whole orders as they are taught, system by system and backup by backup: common practice, no source.

Each is read like a page that is handed out; people are named as in the builders: Ada guides and goes last, Bo is the
second guide and goes first, Cleo is a novice."""

ORDERS: dict[str, str] = {
    "releasable, a novice watched from below": """
Ada clips the tether to the master point.
Ada leans back on the tether: it is loaded and looked at.
Ada goes to the edge.
Ada threads end B of r1 through the ring.
Ada ties the tie-off, the reserve in its bag.
Ada ties a stopper in end B of r1.
Bo checks the station from rock to harness.
Ada calls “rope”.
Ada lets the rope down, ends first.
Ada stays at the tie-off, reserve in hand.
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Bo puts the device on end B of r1.
Bo ties the third hand below the device.
Bo weights it all with the tether still in, and looks at every link.
Bo unclips the tether and stows it on the harness.
Bo goes over the edge and rides down.
Bo arrives.
Bo takes the device off the rope.
Bo takes the third hand off.
Bo calls “off rope”.
Cleo clips the tether to the master point.
Cleo leans back on the tether: it is loaded and looked at.
Cleo goes to the edge.
Cleo puts the device on end B of r1.
Cleo weights it all with the tether still in, and looks at every link.
Bo takes the strands in hand below and watches Cleo.
Cleo unclips the tether and stows it on the harness.
Cleo goes over the edge and rides down.
Cleo arrives.
Bo lets go of the strands: the belay from below ends.
Cleo takes the device off the rope.
Cleo calls “off rope”.
Ada leaves the tie-off.
Ada converts the station for the last person.
Ada calls “rope”.
Ada lets the rope down, ends first.
Bo test-pulls from below: it moves.
Ada pulls it back until it sits at the ring.
Ada calls “pull end A of r1”.
Ada puts the device on end B of r1.
Ada ties the third hand below the device.
Ada weights it all with the tether still in, and looks at every link.
Ada unclips the tether and stows it on the harness.
Ada goes over the edge and rides down.
Ada arrives.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Bo unties the stopper in end B of r1.
Bo secures the rope: clipped.
Everybody stands clear of the fall line.
Bo pulls end A of r1.
Bo stacks the rope.
""",
    "stacked, with an isolating clove": """
Ada clips the tether to the master point.
Ada leans back on the tether: it is loaded and looked at.
Ada goes to the edge.
Ada threads end A of r1 through the ring.
Ada pulls the rope through to its middle.
Ada ties a stopper in end A of r1.
Ada ties a stopper in end B of r1.
Bo checks the station from rock to harness.
Ada calls “rope”.
Ada lets the rope down, ends first.
Cleo clips the tether to the master point.
Cleo leans back on the tether: it is loaded and looked at.
Cleo goes to the edge.
Cleo puts the device on both strands of r1.
Cleo weights it all with the tether still in, and looks at every link.
Bo checks Cleo from rock to harness.
Cleo ties the isolating clove.
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Bo puts the device on both strands of r1.
Bo ties the third hand below the device.
Bo weights it all with the tether still in, and looks at every link.
Bo unclips the tether and stows it on the harness.
Bo goes over the edge and rides down.
Bo arrives.
Bo takes the device off the rope.
Bo takes the third hand off.
Bo calls “off rope”.
Cleo unties the isolating clove.
Bo takes the strands in hand below and watches Cleo.
Cleo unclips the tether and stows it on the harness.
Cleo goes over the edge and rides down.
Cleo arrives.
Bo lets go of the strands: the belay from below ends.
Cleo takes the device off the rope.
Cleo calls “off rope”.
Bo test-pulls from below: it moves.
Ada calls “pull end B of r1”.
Ada puts the device on both strands of r1.
Ada ties the third hand below the device.
Ada weights it all with the tether still in, and looks at every link.
Ada unclips the tether and stows it on the harness.
Ada goes over the edge and rides down.
Ada arrives.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Bo unties the stopper in end A of r1.
Bo secures the rope: clipped.
Everybody stands clear of the fall line.
Bo pulls end B of r1.
Bo stacks the rope.
""",
    "a top line": """
Ada clips the tether to the master point.
Ada leans back on the tether: it is loaded and looked at.
Ada goes to the edge.
Ada threads end A of r1 through the ring.
Ada pulls the rope through to its middle.
Ada ties a stopper in end A of r1.
Ada ties a stopper in end B of r1.
Bo checks the station from rock to harness.
Ada calls “rope”.
Ada lets the rope down, ends first.
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Bo puts the device on both strands of r1.
Bo ties the third hand below the device.
Bo weights it all with the tether still in, and looks at every link.
Bo unclips the tether and stows it on the harness.
Bo goes over the edge and rides down.
Bo arrives.
Bo takes the device off the rope.
Bo takes the third hand off.
Bo calls “off rope”.
Cleo clips the tether to the master point.
Cleo leans back on the tether: it is loaded and looked at.
Cleo goes to the edge.
Cleo puts the device on both strands of r1.
Ada takes Cleo on belay on the second rope.
Cleo weights it all with the tether still in, and looks at every link.
Cleo unclips the tether and stows it on the harness.
Cleo goes over the edge and rides down.
Cleo arrives.
Cleo takes the device off the rope.
Cleo calls “off rope”.
Ada takes Cleo off belay.
Bo test-pulls from below: it moves.
Ada calls “pull end B of r1”.
Ada puts the device on both strands of r1.
Ada ties the third hand below the device.
Ada weights it all with the tether still in, and looks at every link.
Ada unclips the tether and stows it on the harness.
Ada goes over the edge and rides down.
Ada arrives.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Bo unties the stopper in end A of r1.
Bo secures the rope: clipped.
Everybody stands clear of the fall line.
Bo pulls end B of r1.
Bo stacks the rope.
""",
    "tandem": """
Ada clips the tether to the master point.
Ada leans back on the tether: it is loaded and looked at.
Ada goes to the edge.
Ada threads end A of r1 through the ring.
Ada pulls the rope through to its middle.
Ada ties a stopper in end A of r1.
Ada ties a stopper in end B of r1.
Bo checks the station from rock to harness.
Ada calls “rope”.
Ada lets the rope down, ends first.
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Cleo clips the tether to the master point.
Cleo leans back on the tether: it is loaded and looked at.
Cleo goes to the edge.
Bo puts the device on both strands of r1.
Cleo clips the longer tether into Bo’s device.
Bo ties the third hand below the device.
Bo weights it all with the tether still in, and looks at every link.
Cleo weights it all with the tether still in, and looks at every link.
Cleo unclips the tether and stows it on the harness.
Bo unclips the tether and stows it on the harness.
Bo goes over the edge and rides down.
Bo arrives.
Cleo unclips from the other’s device.
Bo takes the device off the rope.
Bo takes the third hand off.
Bo calls “off rope”.
Bo test-pulls from below: it moves.
Ada calls “pull end B of r1”.
Ada puts the device on both strands of r1.
Ada ties the third hand below the device.
Ada weights it all with the tether still in, and looks at every link.
Ada unclips the tether and stows it on the harness.
Ada goes over the edge and rides down.
Ada arrives.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Bo unties the stopper in end A of r1.
Bo secures the rope: clipped.
Everybody stands clear of the fall line.
Bo pulls end B of r1.
Bo stacks the rope.
""",
    "lowered, converted for the last": """
Ada clips the tether to the master point.
Ada leans back on the tether: it is loaded and looked at.
Ada goes to the edge.
Ada threads end B of r1 through the ring.
Bo checks the station from rock to harness.
Ada calls “rope”.
Ada lets the rope down, ends first.
Ada sees the ends down.
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Bo ties in to the rope’s end.
Ada takes Bo tight, brake hand on.
Ada puts in a hitch on the brake strand.
Bo weights it all with the tether still in, and looks at every link.
Bo unclips the tether and stows it on the harness.
Bo is lowered.
Bo arrives.
Bo unties from the rope.
Bo calls “off rope”.
Cleo clips the tether to the master point.
Cleo leans back on the tether: it is loaded and looked at.
Cleo goes to the edge.
Cleo ties in to the rope’s end.
Ada takes Cleo tight, brake hand on.
Cleo weights it all with the tether still in, and looks at every link.
Cleo unclips the tether and stows it on the harness.
Cleo is lowered.
Cleo arrives.
Cleo unties from the rope.
Cleo calls “off rope”.
Ada takes out a hitch on the brake strand.
Ada converts the station for the last person.
Ada ties a stopper in end A of r1.
Ada ties a stopper in end B of r1.
Ada calls “rope”.
Ada lets the rope down, ends first.
Bo test-pulls from below: it moves.
Ada calls “pull end B of r1”.
Ada puts the device on both strands of r1.
Ada ties the third hand below the device.
Ada weights it all with the tether still in, and looks at every link.
Ada unclips the tether and stows it on the harness.
Ada goes over the edge and rides down.
Ada arrives.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Bo unties the stopper in end A of r1.
Bo secures the rope: clipped.
Everybody stands clear of the fall line.
Bo pulls end B of r1.
Bo stacks the rope.
""",
    "blocked on the same rope": """
Ada clips the tether to the master point.
Ada leans back on the tether: it is loaded and looked at.
Ada goes to the edge.
Ada threads end A of r1 through the ring.
Ada ties the block at the ring.
Ada puts in the block carabiner.
Ada ties a stopper in end B of r1.
Bo checks the station from rock to harness.
Ada calls “rope”.
Ada lets the rope down, ends first.
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Bo puts the device on end B of r1.
Bo ties the third hand below the device.
Bo weights it all with the tether still in, and looks at every link.
Bo unclips the tether and stows it on the harness.
Bo goes over the edge and rides down.
Bo arrives.
Bo takes the device off the rope.
Bo takes the third hand off.
Bo calls “off rope”.
Bo test-pulls from below: it moves.
Ada pulls it back until it sits at the ring.
Ada calls “pull end A of r1”.
Ada puts the device on end B of r1.
Ada ties the third hand below the device.
Ada weights it all with the tether still in, and looks at every link.
Ada unclips the tether and stows it on the harness.
Ada goes over the edge and rides down.
Ada arrives.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Bo unties the stopper in end B of r1.
Bo secures the rope: clipped.
Everybody stands clear of the fall line.
Bo pulls end A of r1.
Bo stacks the rope.
""",
    "alternating bights": """
Ada clips the tether to the master point.
Ada leans back on the tether: it is loaded and looked at.
Ada goes to the edge.
Ada threads end B of r1 through the ring.
Ada pulls the rope through to its middle.
Ada ties the bights.
Ada puts in the bights' carabiner.
Ada ties a stopper in end B of r1.
Bo checks the station from rock to harness.
Ada calls “rope”.
Ada lets the rope down, ends first.
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Bo puts the device on end B of r1.
Bo ties the third hand below the device.
Bo weights it all with the tether still in, and looks at every link.
Bo unclips the tether and stows it on the harness.
Bo goes over the edge and rides down.
Bo arrives.
Bo takes the device off the rope.
Bo takes the third hand off.
Bo calls “off rope”.
Ada calls “pull end A of r1”.
Ada takes out the bights' carabiner.
Ada puts the device on end B of r1.
Ada ties the third hand below the device.
Ada weights it all with the tether still in, and looks at every link.
Ada unclips the tether and stows it on the harness.
Ada goes over the edge and rides down.
Ada arrives.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Bo secures the rope: clipped.
Everybody stands clear of the fall line.
Bo pulls end A of r1.
Bo stacks the rope.
""",
    "an elastic-release device": """
Ada clips the tether to the master point.
Ada leans back on the tether: it is loaded and looked at.
Ada goes to the edge.
Ada threads end B of r1 through the ring.
Ada ties the rope to the elastic-release device.
Ada ties a stopper in end B of r1.
Bo checks the station from rock to harness.
Ada calls “rope”.
Ada lets the rope down, ends first.
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Bo puts the device on end B of r1.
Bo ties the third hand below the device.
Bo weights it all with the tether still in, and looks at every link.
Bo unclips the tether and stows it on the harness.
Bo goes over the edge and rides down.
Bo arrives.
Bo takes the device off the rope.
Bo takes the third hand off.
Bo calls “off rope”.
Ada puts the device on end B of r1.
Ada ties the third hand below the device.
Ada weights it all with the tether still in, and looks at every link.
Ada unclips the tether and stows it on the harness.
Ada goes over the edge and rides down.
Ada arrives.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Bo secures the rope: clipped.
Everybody stands clear of the fall line.
Bo pulls the rope down.
Bo stacks the rope.
""",
    "courtesy rig": """
Ada clips the tether to the master point.
Ada leans back on the tether: it is loaded and looked at.
Ada goes to the edge.
Ada threads end A of r1 through the ring.
Ada pulls the rope through to its middle.
Ada ties a stopper in end A of r1.
Ada ties a stopper in end B of r1.
Bo checks the station from rock to harness.
Ada calls “rope”.
Ada lets the rope down, ends first.
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Bo puts the device on both strands of r1.
Bo ties the third hand below the device.
Bo weights it all with the tether still in, and looks at every link.
Bo unclips the tether and stows it on the harness.
Bo goes over the edge and rides down.
Bo arrives.
Bo takes the device off the rope.
Bo takes the third hand off.
Bo calls “off rope”.
Ada sets the ring over the edge.
Bo test-pulls from below: it moves.
Ada calls “pull end B of r1”.
Ada puts the device on both strands of r1.
Ada ties the third hand below the device.
Ada weights it all with the tether still in, and looks at every link.
Ada unclips the tether and stows it on the harness.
Ada goes over the edge and rides down.
Ada arrives.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Bo unties the stopper in end A of r1.
Bo secures the rope: clipped.
Everybody stands clear of the fall line.
Bo pulls end B of r1.
Bo stacks the rope.
""",
    "two ropes joined, hanging": """
Ada clips the tether to the master point.
Ada leans back on the tether: it is loaded and looked at.
Ada goes to the edge.
Ada threads end B of r1 through the ring.
Ada ties the join, dressed and set.
Ada ties a stopper in end B of r1.
Ada ties a stopper in end B of r2.
Bo checks the station from rock to harness.
Ada calls “rope”.
Ada lets the rope down, ends first.
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Bo puts the device on both strands, r1 and r2.
Bo ties the third hand below the device.
Bo weights it all with the tether still in, and looks at every link.
Bo unclips the tether and stows it on the harness.
Bo goes over the edge and rides down.
Bo arrives.
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo takes the device off the rope.
Bo takes the third hand off.
Bo calls “off rope”.
Bo test-pulls from below: it moves.
Ada calls “pull end B of r2”.
Ada puts the device on both strands, r1 and r2.
Ada ties the third hand below the device.
Ada weights it all with the tether still in, and looks at every link.
Ada unclips the tether and stows it on the harness.
Ada goes over the edge and rides down.
Ada arrives.
Ada clips the tether to the master point.
Ada leans back on the tether: it is loaded and looked at.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Bo unties the stopper in end B of r1.
Bo secures the rope: clipped.
Everybody stands clear of the fall line.
Bo pulls end B of r2.
Bo stacks the rope.
""",
    "lowered from the top, a bight passed through": """
Ada clips the tether to the master point.
Ada leans back on the tether: it is loaded and looked at.
Ada passes a bight of the rope through the ring, still on belay.
Ada ties a figure eight in a bight and clips it to the belay loop.
Ada checks the knots from rock to harness.
Ada unties from the rope’s end.
Bo takes Ada tight, brake hand on.
Bo puts in a hitch on the brake strand.
Ada weights it all with the tether still in, and looks at every link.
Ada unclips the tether and stows it on the harness.
Ada is lowered.
Ada arrives.
Ada unties from the rope.
Everybody stands clear of the fall line.
Bo pulls the rope down.
Bo stacks the rope.
""",
    "lowered from the top, the end tied again": """
Ada clips the tether to the master point.
Ada leans back on the tether: it is loaded and looked at.
Ada ties a figure eight in a bight and clips it to the belay loop.
Ada unties from the rope’s end.
Ada passes the end through the ring.
Ada ties in to the end again.
Ada checks the knots from rock to harness.
Ada unties the bight.
Bo takes Ada tight, brake hand on.
Bo puts in a hitch on the brake strand.
Ada weights it all with the tether still in, and looks at every link.
Ada unclips the tether and stows it on the harness.
Ada is lowered.
Ada arrives.
Ada unties from the rope.
Everybody stands clear of the fall line.
Bo pulls the rope down.
Bo stacks the rope.
""",
}
