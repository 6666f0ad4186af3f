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
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Bo checks the station from rock to harness.
Ada calls “rope” and waits.
Ada lets the rope down, ends first.
Ada stays at the tie-off, reserve in hand.
Bo ties the third hand, 4 wraps, clear of where the device will sit.
Bo puts the device on end B of r1.
Bo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Bo unclips the tether and stows it on the harness.
Bo takes the brake strand in the hand, goes over the edge and rides down.
Bo arrives.
Bo takes the device off the rope.
Bo takes the third hand off.
Bo calls “off rope”.
Cleo clips the tether to the master point.
Cleo leans back on the tether: it is loaded and looked at.
Cleo goes to the edge.
Cleo puts the device on end B of r1.
Ada checks Cleo from rock to harness.
Ada stays at the tie-off, reserve in hand.
Cleo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Bo takes the strands in hand below and watches Cleo.
Cleo unclips the tether and stows it on the harness.
Cleo takes the brake strand in the hand, goes over the edge and rides down.
Cleo arrives.
Cleo takes the device off the rope.
Bo lets go of the strands: the belay from below ends.
Cleo calls “off rope”.
Ada leaves the tie-off.
Ada ties the block at the ring.
Ada puts in the block carabiner.
Ada loads the block: it sits at the ring before anything is undone.
Ada unties the tie-off.
Ada calls “rope” and waits.
Bo calls “clear”.
Ada lets the rope down, ends first.
Bo test-pulls a metre from below. It moves.
Ada pulls it back until it sits at the ring.
Ada calls “pull end A of r1”.
Ada ties the third hand, 4 wraps, clear of where the device will sit.
Ada puts the device on end B of r1.
Ada weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Ada unclips the tether and stows it on the harness.
Ada takes the brake strand in the hand, goes over the edge and rides down.
Ada arrives.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Bo pulls end A of r1; Ada watches the other strand.
Ada unties the stopper in end B of r1.
Bo stops before the end comes to the ring above.
Bo secures the rope: clipped.
Everybody stands clear of the fall line.
Bo pulls the end through: it falls.
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
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Bo checks the station from rock to harness.
Ada calls “rope” and waits.
Ada lets the rope down, ends first.
Bo ties the third hand, 4 wraps, clear of where the device will sit.
Bo puts the device on both strands of r1.
Bo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Bo ties an isolating clove at the master point.
Cleo clips the tether to the master point.
Cleo leans back on the tether: it is loaded and looked at.
Cleo goes to the edge.
Cleo puts the device on both strands of r1, above Bo’s.
Bo checks Cleo from rock to harness.
Cleo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Bo unclips the tether and stows it on the harness.
Bo takes the brake strand in the hand, goes over the edge and rides down.
Bo arrives.
Bo takes the device off the rope.
Bo takes the third hand off.
Bo calls “off rope”.
Ada unties the isolating clove.
Bo takes the strands in hand below and watches Cleo.
Cleo unclips the tether and stows it on the harness.
Cleo takes the brake strand in the hand, goes over the edge and rides down.
Cleo arrives.
Cleo takes the device off the rope.
Bo lets go of the strands: the belay from below ends.
Cleo calls “off rope”.
Bo test-pulls a metre from below. It moves.
Ada pulls it back until it sits at the ring.
Ada calls “pull end B of r1”.
Ada ties the third hand, 4 wraps, clear of where the device will sit.
Ada puts the device on both strands of r1.
Ada weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Ada unclips the tether and stows it on the harness.
Ada takes the brake strand in the hand, goes over the edge and rides down.
Ada arrives.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Bo pulls end B of r1; Ada watches the other strand.
Ada unties the stopper in end A of r1.
Bo stops before the end comes to the ring above.
Bo secures the rope: clipped.
Everybody stands clear of the fall line.
Bo pulls the end through: it falls.
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
Ada ties the ride line off at the master point, releasable.
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Bo checks the station from rock to harness.
Ada calls “rope” and waits.
Ada lets the rope down, ends first.
Bo ties the third hand, 4 wraps, clear of where the device will sit.
Bo puts the device on both strands of r1.
Bo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Bo unclips the tether and stows it on the harness.
Bo takes the brake strand in the hand, goes over the edge and rides down.
Bo arrives.
Bo takes the device off the rope.
Bo takes the third hand off.
Bo calls “off rope”.
Cleo clips the tether to the master point.
Cleo leans back on the tether: it is loaded and looked at.
Cleo ties in to the top line.
Cleo goes to the edge.
Cleo puts the device on both strands of r1.
Ada checks Cleo from rock to harness.
Ada takes Cleo on belay on the second rope at the master point, brake hand on.
Cleo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Cleo unclips the tether and stows it on the harness.
Cleo takes the brake strand in the hand, goes over the edge and rides down.
Cleo arrives.
Cleo takes the device off the rope.
Cleo unties from the top line.
Cleo calls “off rope”.
Ada unties the ride line’s tie-off.
Ada pulls the line’s end up.
Bo test-pulls a metre from below. It moves.
Ada pulls it back until it sits at the ring.
Ada calls “pull end B of r1”.
Ada ties the third hand, 4 wraps, clear of where the device will sit.
Ada puts the device on both strands of r1.
Ada weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Ada unclips the tether and stows it on the harness.
Ada takes the brake strand in the hand, goes over the edge and rides down.
Ada arrives.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Bo pulls end B of r1; Ada watches the other strand.
Ada unties the stopper in end A of r1.
Bo stops before the end comes to the ring above.
Bo secures the rope: clipped.
Everybody stands clear of the fall line.
Bo pulls the end through: it falls.
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
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Bo checks the station from rock to harness.
Ada calls “rope” and waits.
Ada lets the rope down, ends first.
Cleo clips the tether to the master point.
Cleo leans back on the tether: it is loaded and looked at.
Cleo goes to the edge.
Bo ties the third hand, 4 wraps, clear of where the device will sit.
Bo puts the device on both strands of r1.
Cleo clips the longer tether into Bo’s device.
Bo checks Cleo from rock to harness.
Bo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Cleo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Cleo unclips the tether and stows it on the harness.
Bo unclips the tether and stows it on the harness.
Bo takes the brake strand in the hand, goes over the edge and rides down.
Bo arrives.
Cleo unclips from the other’s device.
Bo takes the device off the rope.
Bo takes the third hand off.
Bo calls “off rope”.
Bo test-pulls a metre from below. It moves.
Ada pulls it back until it sits at the ring.
Ada calls “pull end B of r1”.
Ada ties the third hand, 4 wraps, clear of where the device will sit.
Ada puts the device on both strands of r1.
Ada weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Ada unclips the tether and stows it on the harness.
Ada takes the brake strand in the hand, goes over the edge and rides down.
Ada arrives.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Bo pulls end B of r1; Ada watches the other strand.
Ada unties the stopper in end A of r1.
Bo stops before the end comes to the ring above.
Bo secures the rope: clipped.
Everybody stands clear of the fall line.
Bo pulls the end through: it falls.
Bo stacks the rope.
""",
    "lowered, converted for the last": """
Ada clips the tether to the master point.
Ada leans back on the tether: it is loaded and looked at.
Ada goes to the edge.
Ada threads end B of r1 through the ring.
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Bo checks the station from rock to harness.
Bo ties in to the rope’s end.
Ada checks Bo from rock to harness.
Ada puts in a hitch on the brake strand.
Ada takes Bo tight, brake hand on.
Bo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Bo unclips the tether and stows it on the harness.
Bo is lowered.
Bo arrives.
Bo unties from the rope.
Bo calls “off rope”.
Cleo clips the tether to the master point.
Cleo leans back on the tether: it is loaded and looked at.
Cleo goes to the edge.
Ada pulls end B of r1 up.
Cleo ties in to the rope’s end.
Ada checks Cleo from rock to harness.
Ada takes Cleo tight, brake hand on.
Cleo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Cleo unclips the tether and stows it on the harness.
Cleo is lowered.
Cleo arrives.
Cleo unties from the rope.
Cleo calls “off rope”.
Ada takes out the hitch on the brake strand.
Ada pulls end B of r1 up.
Ada converts the station for the last person: the belay off the rope, the rope at its middle.
Ada ties a stopper in end A of r1.
Ada ties a stopper in end B of r1.
Ada calls “rope” and waits.
Bo calls “clear”.
Ada lets the rope down, ends first.
Bo test-pulls a metre from below. It moves.
Ada pulls it back until it sits at the ring.
Ada calls “pull end B of r1”.
Ada ties the third hand, 4 wraps, clear of where the device will sit.
Ada puts the device on both strands of r1.
Ada weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Ada unclips the tether and stows it on the harness.
Ada takes the brake strand in the hand, goes over the edge and rides down.
Ada arrives.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Bo pulls end B of r1; Ada watches the other strand.
Ada unties the stopper in end A of r1.
Bo stops before the end comes to the ring above.
Bo secures the rope: clipped.
Everybody stands clear of the fall line.
Bo pulls the end through: it falls.
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
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Bo checks the station from rock to harness.
Ada calls “rope” and waits.
Ada lets the rope down, ends first.
Bo ties the third hand, 4 wraps, clear of where the device will sit.
Bo puts the device on end B of r1.
Bo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Bo unclips the tether and stows it on the harness.
Bo takes the brake strand in the hand, goes over the edge and rides down.
Bo arrives.
Bo takes the device off the rope.
Bo takes the third hand off.
Bo calls “off rope”.
Bo test-pulls a metre from below. It moves.
Ada pulls it back until it sits at the ring.
Ada calls “pull end A of r1”.
Ada ties the third hand, 4 wraps, clear of where the device will sit.
Ada puts the device on end B of r1.
Ada weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Ada unclips the tether and stows it on the harness.
Ada takes the brake strand in the hand, goes over the edge and rides down.
Ada arrives.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Bo pulls end A of r1; Ada watches the other strand.
Ada unties the stopper in end B of r1.
Bo stops before the end comes to the ring above.
Bo secures the rope: clipped.
Everybody stands clear of the fall line.
Bo pulls the end through: it falls.
Bo stacks the rope.
""",
    "alternating bights": """
Ada clips the tether to the master point.
Ada leans back on the tether: it is loaded and looked at.
Ada goes to the edge.
Ada threads end B of r1 through the ring.
Ada pulls the rope through to its middle.
Ada ties the bights.
Ada puts in the bights’ carabiner.
Ada ties a stopper in end B of r1.
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Bo checks the station from rock to harness.
Ada calls “rope” and waits.
Ada lets the rope down, ends first.
Bo ties the third hand, 4 wraps, clear of where the device will sit.
Bo puts the device on end B of r1.
Bo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Bo unclips the tether and stows it on the harness.
Bo takes the brake strand in the hand, goes over the edge and rides down.
Bo arrives.
Bo takes the device off the rope.
Bo takes the third hand off.
Bo calls “off rope”.
Ada calls “pull end A of r1”.
Ada takes out the bights’ carabiner.
Ada ties the third hand, 4 wraps, clear of where the device will sit.
Ada puts the device on end B of r1.
Ada weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Ada unclips the tether and stows it on the harness.
Ada takes the brake strand in the hand, goes over the edge and rides down.
Ada arrives.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Bo pulls end A of r1; Ada watches the other strand.
Bo stops before the end comes to the ring above.
Bo secures the rope: clipped.
Everybody stands clear of the fall line.
Bo pulls the end through: it falls.
Bo stacks the rope.
""",
    "an elastic-release device": """
Ada clips the tether to the master point.
Ada leans back on the tether: it is loaded and looked at.
Ada goes to the edge.
Ada threads end B of r1 through the ring.
Ada ties the rope to the elastic-release device.
Ada ties a stopper in end B of r1.
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Bo checks the station from rock to harness.
Ada calls “rope” and waits.
Ada lets the rope down, ends first.
Bo ties the third hand, 4 wraps, clear of where the device will sit.
Bo puts the device on end B of r1.
Bo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Bo unclips the tether and stows it on the harness.
Bo takes the brake strand in the hand, goes over the edge and rides down.
Bo arrives.
Bo takes the device off the rope.
Bo takes the third hand off.
Bo calls “off rope”.
Ada ties the third hand, 4 wraps, clear of where the device will sit.
Ada puts the device on end B of r1.
Ada weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Ada unclips the tether and stows it on the harness.
Ada takes the brake strand in the hand, goes over the edge and rides down.
Ada arrives.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Bo secures the rope: clipped.
Everybody stands clear of the fall line.
Bo weights and lets go in turn until the device opens: the rope down.
Bo pulls it down: it falls.
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
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Bo checks the station from rock to harness.
Ada calls “rope” and waits.
Ada lets the rope down, ends first.
Bo ties the third hand, 4 wraps, clear of where the device will sit.
Bo puts the device on both strands of r1.
Bo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Bo unclips the tether and stows it on the harness.
Bo takes the brake strand in the hand, goes over the edge and rides down.
Bo arrives.
Bo takes the device off the rope.
Bo takes the third hand off.
Bo calls “off rope”.
Ada sets the ring over the edge.
Bo test-pulls a metre from below. It moves.
Ada pulls it back until it sits at the ring.
Ada calls “pull end B of r1”.
Ada ties the third hand, 4 wraps, clear of where the device will sit.
Ada puts the device on both strands of r1.
Ada weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Ada unclips the tether and stows it on the harness.
Ada takes the brake strand in the hand, goes over the edge and rides down.
Ada arrives.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Bo pulls end B of r1; Ada watches the other strand.
Ada unties the stopper in end A of r1.
Bo stops before the end comes to the ring above.
Bo secures the rope: clipped.
Everybody stands clear of the fall line.
Bo pulls the end through: it falls.
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
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Bo checks the station from rock to harness.
Ada calls “rope” and waits.
Ada lets the rope down, ends first.
Bo ties the third hand, 4 wraps, clear of where the device will sit.
Bo puts the device on both strands, r1 and r2.
Bo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Bo unclips the tether and stows it on the harness.
Bo takes the brake strand in the hand, goes over the edge and rides down.
Bo arrives.
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo takes the device off the rope.
Bo takes the third hand off.
Bo calls “off rope”.
Bo test-pulls a metre from below. It moves.
Ada pulls it back until it sits at the ring.
Ada calls “pull end B of r2”.
Ada ties the third hand, 4 wraps, clear of where the device will sit.
Ada puts the device on both strands, r1 and r2.
Ada weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Ada unclips the tether and stows it on the harness.
Ada takes the brake strand in the hand, goes over the edge and rides down.
Ada arrives.
Ada clips the tether to the master point.
Ada leans back on the tether: it is loaded and looked at.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Bo pulls end B of r2; Ada watches the other strand.
Ada unties the stopper in end B of r1.
Bo stops before the end comes to the ring above.
Bo secures the rope: clipped.
Everybody stands clear of the fall line: leaned out to one side on the tether, helmet to the wall.
Bo pulls the end through: it falls.
Bo stacks the rope.
""",
    "lowered from the top, a bight passed through": """
Ada clips the tether to the master point.
Ada leans back on the tether: it is loaded and looked at.
Ada passes a bight of the rope through the ring, still on belay.
Ada ties a figure eight in a bight and clips it to the belay loop.
Ada checks the knots, gates and strands.
Ada unties from the rope’s end.
Bo puts in a hitch on the brake strand.
Bo takes Ada tight, brake hand on.
Ada weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Ada unclips the tether and stows it on the harness.
Ada is lowered.
Ada arrives.
Ada unties from the rope.
Bo pulls the rope down.
Bo stops before the end comes to the ring above.
Everybody stands clear of the fall line.
Bo pulls the end through: it falls.
Bo stacks the rope.
""",
    "lowered from the top, the end tied again": """
Ada clips the tether to the master point.
Ada leans back on the tether: it is loaded and looked at.
Ada ties a figure eight in a bight and clips it to the belay loop.
Ada unties from the rope’s end.
Ada passes the end through the ring.
Ada ties in to the end again.
Ada checks the knots, gates and strands.
Ada unties the bight.
Bo puts in a hitch on the brake strand.
Bo takes Ada tight, brake hand on.
Ada weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Ada unclips the tether and stows it on the harness.
Ada is lowered.
Ada arrives.
Ada unties from the rope.
Bo pulls the rope down.
Bo stops before the end comes to the ring above.
Everybody stands clear of the fall line.
Bo pulls the end through: it falls.
Bo stacks the rope.
""",
    "two people change at a hanging stance": """
Ada clips the tether to the master point.
Ada leans back on the tether: it is loaded and looked at.
Ada goes to the edge.
Ada threads end A of r1 through the ring.
Ada pulls the rope through to its middle.
Ada ties a stopper in end A of r1.
Ada ties a stopper in end B of r1.
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Bo checks the station from rock to harness.
Ada calls “rope” and waits.
Ada lets the rope down, ends first.
Bo ties the third hand, 4 wraps, clear of where the device will sit.
Bo puts the device on both strands of r1.
Bo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Bo unclips the tether and stows it on the harness.
Bo takes the brake strand in the hand, goes over the edge and rides down.
Bo arrives.
Bo clips the tether to the master point, short, on its outer strands, clear of the ring.
Bo leans back on the tether: it is loaded and looked at.
Bo takes the device off the rope.
Bo takes the third hand off.
Bo calls “off rope”.
Bo looks up: do the strands cross?
Bo pulls end B of r1 up.
Bo ties an isolating overhand below station 2, at mid-thigh.
Bo unties the stopper in end B of r1.
Bo threads end B of r1 through the ring.
Bo ties a stopper in end B of r1.
Bo stacks the rope, with slack for whoever is still above.
Bo test-pulls a metre from below. It moves.
Ada pulls it back until it sits at the ring.
Ada calls “pull end B of r1”.
Ada ties the third hand, 4 wraps, clear of where the device will sit.
Ada puts the device on both strands of r1.
Ada weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Ada unclips the tether and stows it on the harness.
Ada takes the brake strand in the hand, goes over the edge and rides down.
Ada arrives.
Ada clips the tether to the master point, short, on its outer strands, clear of the ring.
Ada leans back on the tether: it is loaded and looked at.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Bo unties the isolating overhand below station 2.
Bo pulls end B of r1; Ada watches the other strand.
Ada unties the stopper in end A of r1.
Bo runs it through the fingers: a kink that a knot has left jams.
Bo stops before the end comes to the ring above.
Everybody stands clear of the fall line: leaned out to one side on the tether, helmet to the wall.
Bo pulls the end through: it falls.
Bo stacks the rope.
Ada pulls the rope through to its middle.
Ada ties an isolating overhand below station 2, at mid-thigh.
Ada pulls end A of r1 up.
Ada ties a stopper in end A of r1.
Bo checks the station from rock to harness.
Ada calls “rope” and waits.
Ada lets the rope down, ends first.
Bo ties the third hand, 4 wraps, clear of where the device will sit.
Bo puts the device on both strands of r1.
Bo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Bo unties the isolating overhand below station 2.
Bo unclips the tether and stows it on the harness.
Bo takes the brake strand in the hand, goes over the edge and rides down.
Bo arrives.
Bo clips the tether to the master point, short, on its outer strands, clear of the ring.
Bo leans back on the tether: it is loaded and looked at.
Bo takes the device off the rope.
Bo takes the third hand off.
Bo calls “off rope”.
Bo test-pulls a metre from below. It moves.
Ada pulls it back until it sits at the ring.
Ada calls “pull end B of r1”.
Ada ties the third hand, 4 wraps, clear of where the device will sit.
Ada puts the device on both strands of r1.
Ada weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Ada unclips the tether and stows it on the harness.
Ada takes the brake strand in the hand, goes over the edge and rides down.
Ada arrives.
Ada clips the tether to the master point, short, on its outer strands, clear of the ring.
Ada leans back on the tether: it is loaded and looked at.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Bo pulls end B of r1; Ada watches the other strand.
Ada unties the stopper in end A of r1.
Bo stops before the end comes to the ring above.
Bo secures the rope: clipped.
Everybody stands clear of the fall line: leaned out to one side on the tether, helmet to the wall.
Bo pulls the end through: it falls.
Bo stacks the rope.
""",
    "three change at hanging stances on two ropes": """
Ada clips the tether to the master point.
Ada leans back on the tether: it is loaded and looked at.
Ada goes to the edge.
Ada threads end B of r1 through the ring.
Ada ties the join, dressed and set.
Ada ties a stopper in end B of r1.
Ada ties a stopper in end B of r2.
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Bo checks the station from rock to harness.
Ada calls “rope” and waits.
Ada lets the rope down, ends first.
Bo ties the third hand, 4 wraps, clear of where the device will sit.
Bo puts the device on both strands, r1 and r2.
Bo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Bo unclips the tether and stows it on the harness.
Bo takes the brake strand in the hand, goes over the edge and rides down.
Bo arrives.
Bo clips the tether to the master point, short, on its outer strands, clear of the ring.
Bo leans back on the tether: it is loaded and looked at.
Bo takes the device off the rope.
Bo takes the third hand off.
Bo calls “off rope”.
Cleo clips the tether to the master point.
Cleo leans back on the tether: it is loaded and looked at.
Cleo goes to the edge.
Cleo puts the device on both strands, r1 and r2.
Ada checks Cleo from rock to harness.
Cleo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Bo takes the strands in hand below and watches Cleo.
Cleo unclips the tether and stows it on the harness.
Cleo takes the brake strand in the hand, goes over the edge and rides down.
Cleo arrives.
Cleo clips the tether to the master point, short, on its outer strands, clear of the ring.
Cleo leans back on the tether: it is loaded and looked at.
Cleo takes the device off the rope.
Bo lets go of the strands: the belay from below ends.
Cleo calls “off rope”.
Bo test-pulls a metre from below. It moves.
Ada pulls it back until it sits at the ring.
Ada calls “pull end B of r2”.
Ada ties the third hand, 4 wraps, clear of where the device will sit.
Ada puts the device on both strands, r1 and r2.
Ada weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Ada unclips the tether and stows it on the harness.
Ada takes the brake strand in the hand, goes over the edge and rides down.
Ada arrives.
Ada clips the tether to the master point, short, on its outer strands, clear of the ring.
Ada leans back on the tether: it is loaded and looked at.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Bo pulls end B of r2; Ada watches the other strand.
Ada unties the stopper in end B of r1.
Bo stops before the end comes to the ring above.
Bo secures the rope: clipped.
Everybody stands clear of the fall line: leaned out to one side on the tether, helmet to the wall.
Bo pulls the end through: it falls.
Bo stacks the rope.
Ada threads end B of r1 through the ring.
Ada ties the join, dressed and set.
Ada ties an isolating overhand below station 2, at knee height.
Ada ties a stopper in end B of r1.
Bo checks the station from rock to harness.
Ada calls “rope” and waits.
Ada lets the rope down, ends first.
Bo ties the third hand, 4 wraps, clear of where the device will sit.
Bo puts the device on both strands, r1 and r2.
Bo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Bo unties the isolating overhand below station 2.
Bo unclips the tether and stows it on the harness.
Bo takes the brake strand in the hand, goes over the edge and rides down.
Bo arrives.
Bo clips the tether to the master point, short, on its outer strands, clear of the ring.
Bo leans back on the tether: it is loaded and looked at.
Bo takes the device off the rope.
Bo takes the third hand off.
Bo calls “off rope”.
Cleo puts the device on both strands, r1 and r2.
Ada checks Cleo from rock to harness.
Cleo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Bo takes the strands in hand below and watches Cleo.
Cleo unclips the tether and stows it on the harness.
Cleo takes the brake strand in the hand, goes over the edge and rides down.
Cleo arrives.
Cleo clips the tether to the master point, short, on its outer strands, clear of the ring.
Cleo leans back on the tether: it is loaded and looked at.
Cleo takes the device off the rope.
Bo lets go of the strands: the belay from below ends.
Cleo calls “off rope”.
Bo test-pulls a metre from below. It moves.
Ada pulls it back until it sits at the ring.
Ada calls “pull end B of r2”.
Ada ties the third hand, 4 wraps, clear of where the device will sit.
Ada puts the device on both strands, r1 and r2.
Ada weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Ada unclips the tether and stows it on the harness.
Ada takes the brake strand in the hand, goes over the edge and rides down.
Ada arrives.
Ada clips the tether to the master point, short, on its outer strands, clear of the ring.
Ada leans back on the tether: it is loaded and looked at.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Bo pulls end B of r2; Ada watches the other strand.
Ada unties the stopper in end B of r1.
Bo stops before the end comes to the ring above.
Bo secures the rope: clipped.
Everybody stands clear of the fall line: leaned out to one side on the tether, helmet to the wall.
Bo pulls the end through: it falls.
Bo stacks the rope.
""",
    "moving water, a guide, a second and two novices": """
Ada clips the tether to the master point.
Ada leans back on the tether: it is loaded and looked at.
Ada goes to the edge.
Ada threads end B of r1 through the ring.
Ada ties the tie-off, the reserve in its bag.
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Bo checks the station from rock to harness.
Bo ties in to the rope’s end.
Ada checks Bo from rock to harness.
Ada puts in a hitch on the brake strand.
Ada takes Bo tight, brake hand on.
Bo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Bo unclips the tether and stows it on the harness.
Ada unlocks the tie-off, hand on the rope.
Bo is lowered.
Bo arrives.
Ada locks the tie-off.
Bo unties from the rope.
Bo calls “off rope”.
Cleo clips the tether to the master point.
Cleo leans back on the tether: it is loaded and looked at.
Cleo goes to the edge.
Ada pulls end B of r1 up.
Cleo ties in to the rope’s end.
Ada checks Cleo from rock to harness.
Ada takes Cleo tight, brake hand on.
Cleo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Cleo unclips the tether and stows it on the harness.
Ada unlocks the tie-off, hand on the rope.
Cleo is lowered.
Cleo arrives.
Ada locks the tie-off.
Cleo unties from the rope.
Cleo calls “off rope”.
Dan clips the tether to the master point.
Dan leans back on the tether: it is loaded and looked at.
Dan goes to the edge.
Ada pulls end B of r1 up.
Dan ties in to the rope’s end.
Ada checks Dan from rock to harness.
Ada takes Dan tight, brake hand on.
Dan weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Dan unclips the tether and stows it on the harness.
Ada unlocks the tie-off, hand on the rope.
Dan is lowered.
Dan arrives.
Ada locks the tie-off.
Dan unties from the rope.
Dan calls “off rope”.
Ada takes out the hitch on the brake strand.
Ada ties the block at the ring.
Ada puts in the block carabiner.
Ada loads the block: it sits at the ring before anything is undone.
Ada unties the tie-off.
Ada calls “rope” and waits.
Bo calls “clear”.
Ada lets the rope down, ends first.
Bo test-pulls a metre from below. It moves.
Ada pulls it back until it sits at the ring.
Ada calls “pull end A of r1”.
Ada ties the third hand, 4 wraps, clear of where the device will sit.
Ada puts the device on end B of r1.
Ada weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Ada unclips the tether and stows it on the harness.
Ada takes the brake strand in the hand, goes over the edge and rides down.
Ada arrives.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Bo pulls end A of r1; Ada watches the other strand.
Bo stops before the end comes to the ring above.
Bo secures the rope: clipped.
Everybody stands clear of the fall line.
Bo pulls the end through: it falls.
Bo stacks the rope.
""",
    "one guide and two novices, stacked": """
Ada clips the tether to the master point.
Ada leans back on the tether: it is loaded and looked at.
Ada goes to the edge.
Ada threads end A of r1 through the ring.
Ada pulls the rope through to its middle.
Ada ties a stopper in end A of r1.
Ada ties a stopper in end B of r1.
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Bo checks the station from rock to harness.
Ada calls “rope” and waits.
Ada lets the rope down, ends first.
Ada ties the third hand, 4 wraps, clear of where the device will sit.
Ada puts the device on both strands of r1.
Ada weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Bo puts the device on both strands of r1, above Ada’s.
Ada checks Bo from rock to harness.
Bo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Cleo clips the tether to the master point.
Cleo leans back on the tether: it is loaded and looked at.
Cleo goes to the edge.
Cleo puts the device on both strands of r1, above Bo’s.
Ada checks Cleo from rock to harness.
Cleo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Ada unclips the tether and stows it on the harness.
Ada takes the brake strand in the hand, goes over the edge and rides down.
Ada arrives.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Ada takes the strands in hand below and watches Bo.
Bo unclips the tether and stows it on the harness.
Bo takes the brake strand in the hand, goes over the edge and rides down.
Bo arrives.
Bo takes the device off the rope.
Ada lets go of the strands: the belay from below ends.
Bo calls “off rope”.
Ada test-pulls a metre from below. It moves.
Cleo pulls it back until it sits at the ring.
Cleo calls “pull end B of r1”.
Ada takes the strands in hand below and watches Cleo.
Cleo unclips the tether and stows it on the harness.
Cleo takes the brake strand in the hand, goes over the edge and rides down.
Cleo arrives.
Cleo takes the device off the rope.
Ada lets go of the strands: the belay from below ends.
Cleo calls “off rope”.
Ada pulls end B of r1; Cleo watches the other strand.
Cleo unties the stopper in end A of r1.
Ada stops before the end comes to the ring above.
Ada secures the rope: clipped.
Everybody stands clear of the fall line.
Ada pulls the end through: it falls.
Ada stacks the rope.
""",
    "stacked with the tethers stowed": """
Ada clips the tether to the master point.
Ada leans back on the tether: it is loaded and looked at.
Ada goes to the edge.
Ada threads end A of r1 through the ring.
Ada pulls the rope through to its middle.
Ada ties a stopper in end A of r1.
Ada ties a stopper in end B of r1.
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Bo checks the station from rock to harness.
Ada calls “rope” and waits.
Ada lets the rope down, ends first.
Ada ties the third hand, 4 wraps, clear of where the device will sit.
Ada puts the device on both strands of r1.
Ada weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Bo puts the device on both strands of r1, above Ada’s.
Ada checks Bo from rock to harness.
Bo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Cleo clips the tether to the master point.
Cleo leans back on the tether: it is loaded and looked at.
Cleo goes to the edge.
Cleo puts the device on both strands of r1, above Bo’s.
Ada checks Cleo from rock to harness.
Cleo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Ada unclips the tether and stows it on the harness.
Bo unclips the tether and stows it on the harness.
Cleo unclips the tether and stows it on the harness.
Ada takes the brake strand in the hand, goes over the edge and rides down.
Ada takes the strands in hand below and watches Bo.
Ada arrives.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Ada takes the strands in hand below and watches Bo.
Bo takes the brake strand in the hand, goes over the edge and rides down.
Bo arrives.
Bo takes the device off the rope.
Ada lets go of the strands: the belay from below ends.
Bo calls “off rope”.
Cleo clips the tether to the master point.
Cleo leans back on the tether: it is loaded and looked at.
Ada test-pulls a metre from below. It moves.
Cleo pulls it back until it sits at the ring.
Cleo calls “pull end B of r1”.
Ada takes the strands in hand below and watches Cleo.
Cleo unclips the tether and stows it on the harness.
Cleo takes the brake strand in the hand, goes over the edge and rides down.
Cleo arrives.
Cleo takes the device off the rope.
Ada lets go of the strands: the belay from below ends.
Cleo calls “off rope”.
Ada pulls end B of r1; Cleo watches the other strand.
Cleo unties the stopper in end A of r1.
Ada stops before the end comes to the ring above.
Ada secures the rope: clipped.
Everybody stands clear of the fall line.
Ada pulls the end through: it falls.
Ada stacks the rope.
""",
    "an ice thread with its screw": """
Ada clips the tether to the master point.
Ada leans back on the tether: it is loaded and looked at.
Ada goes to the edge.
Ada threads end A of r1 through the ring.
Ada pulls the rope through to its middle.
Ada puts in the backup screw, clipped to the rope without load.
Ada ties a stopper in end A of r1.
Ada ties a stopper in end B of r1.
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Bo checks the station from rock to harness.
Ada calls “rope” and waits.
Ada lets the rope down, ends first.
Bo ties the third hand, 4 wraps, clear of where the device will sit.
Bo puts the device on both strands of r1.
Bo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Bo unclips the tether and stows it on the harness.
Bo takes the brake strand in the hand, goes over the edge and rides down.
Bo arrives.
Bo takes the device off the rope.
Bo takes the third hand off.
Bo calls “off rope”.
Cleo clips the tether to the master point.
Cleo leans back on the tether: it is loaded and looked at.
Cleo goes to the edge.
Cleo puts the device on both strands of r1.
Ada checks Cleo from rock to harness.
Cleo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Bo takes the strands in hand below and watches Cleo.
Cleo unclips the tether and stows it on the harness.
Cleo takes the brake strand in the hand, goes over the edge and rides down.
Cleo arrives.
Cleo takes the device off the rope.
Bo lets go of the strands: the belay from below ends.
Cleo calls “off rope”.
Ada clips a second tether to the backup.
Ada leans back on the tether: it is loaded and looked at.
Ada takes out the backup screw’s clip on the rope.
Bo test-pulls a metre from below. It moves.
Ada pulls it back until it sits at the ring.
Ada calls “pull end B of r1”.
Ada ties the third hand, 4 wraps, clear of where the device will sit.
Ada puts the device on both strands of r1.
Ada weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Ada unclips the tether and stows it on the harness.
Ada unclips the second tether.
Ada takes out the backup screw.
Ada takes the brake strand in the hand, goes over the edge and rides down.
Ada arrives.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Ada unties the stopper in end A of r1.
Bo pulls end B of r1; Ada watches the other strand.
Bo stops before the end comes to the ring above.
Everybody stands clear of the fall line.
Bo pulls the end through: it falls.
Bo stacks the rope.
""",
    "a blocked pull cord": """
Ada clips the tether to the master point.
Ada leans back on the tether: it is loaded and looked at.
Ada goes to the edge.
Ada threads end A of r1 through the ring.
Ada ties the join, dressed and set.
Ada ties the block at the ring.
Ada puts in the block carabiner.
Ada ties a stopper in end B of r1.
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Bo checks the station from rock to harness.
Ada calls “rope” and waits.
Ada lets the rope down, ends first.
Bo ties the third hand, 4 wraps, clear of where the device will sit.
Bo puts the device on end B of r1.
Bo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Bo unclips the tether and stows it on the harness.
Bo takes the brake strand in the hand, goes over the edge and rides down.
Bo arrives.
Bo takes the device off the rope.
Bo takes the third hand off.
Bo calls “off rope”.
Bo test-pulls a metre from below. It moves.
Ada pulls it back until it sits at the ring.
Ada calls “pull end B of c1”.
Ada ties the third hand, 4 wraps, clear of where the device will sit.
Ada puts the device on end B of r1.
Ada weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Ada unclips the tether and stows it on the harness.
Ada takes the brake strand in the hand, goes over the edge and rides down.
Ada arrives.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Ada unties the stopper in end B of r1.
Bo pulls end B of c1; Ada watches the other strand.
Bo stops before the end comes to the ring above.
Everybody stands clear of the fall line.
Bo pulls the end through: it falls.
Bo stacks the rope.
""",
    "a traverse line and a deviation": """
Ada crosses on belay and fixes the traverse line.
Cleo passes the traverse line.
Bo comes across last and reels in the traverse line.
Ada clips the tether to the master point.
Ada leans back on the tether: it is loaded and looked at.
Ada goes to the edge.
Ada threads end A of r1 through the ring.
Ada pulls the rope through to its middle.
Ada ties a stopper in end A of r1.
Ada ties a stopper in end B of r1.
Bo clips the tether to the master point.
Bo leans back on the tether: it is loaded and looked at.
Bo goes to the edge.
Bo checks the station from rock to harness.
Ada calls “rope” and waits.
Ada lets the rope down, ends first.
Bo ties the third hand, 4 wraps, clear of where the device will sit.
Bo puts the device on both strands of r1.
Bo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Bo unclips the tether and stows it on the harness.
Bo takes the brake strand in the hand, goes over the edge and rides down.
Bo puts in the deviation sling on a horn.
Bo arrives.
Bo takes the device off the rope.
Bo takes the third hand off.
Bo calls “off rope”.
Cleo clips the tether to the master point.
Cleo leans back on the tether: it is loaded and looked at.
Cleo goes to the edge.
Cleo puts the device on both strands of r1.
Ada checks Cleo from rock to harness.
Cleo weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Bo takes the strands in hand below and watches Cleo.
Cleo unclips the tether and stows it on the harness.
Cleo takes the brake strand in the hand, goes over the edge and rides down.
Cleo passes the deviation sling on a horn.
Cleo arrives.
Cleo takes the device off the rope.
Bo lets go of the strands: the belay from below ends.
Cleo calls “off rope”.
Bo test-pulls a metre from below. It moves.
Ada pulls it back until it sits at the ring.
Ada calls “pull end B of r1”.
Ada ties the third hand, 4 wraps, clear of where the device will sit.
Ada puts the device on both strands of r1.
Ada weights it all with the tether still in, looks at every link, and adds a wrap if it creeps.
Ada unclips the tether and stows it on the harness.
Ada takes the brake strand in the hand, goes over the edge and rides down.
Ada takes out the deviation sling on a horn.
Ada arrives.
Ada takes the device off the rope.
Ada takes the third hand off.
Ada calls “off rope”.
Bo pulls end B of r1; Ada watches the other strand.
Ada unties the stopper in end A of r1.
Bo stops before the end comes to the ring above.
Bo secures the rope: clipped.
Everybody stands clear of the fall line.
Bo pulls the end through: it falls.
Bo stacks the rope.
""",
}
