"""The ride loop: one drive through time in small steps, compiled when it is first asked for.

Loading this module loads the compiler.  One step:
  1. what the rider asks for (a command, a speed to hold, or all brakes), as a motor current;
  2. what every limit allows at the present state;
  3. bus volts from the power balance, force at the tread, speed and distance; all three again where the motor answers to speed within
     a step, until the acceleration is that of the middle of the step (implicit midpoint);
  4. charge, relaxation and the energy ledger; every tenth step the temperatures and what follows from them.
Speed is taken half a step ahead (leapfrog), which makes the scheme second order and closes the ledger.
Sources: the balances of motor.py, powertrain.py, pack.py, reduction.py, road.py and thermal.py; no second model.
Left out: saturation; tyre slip; hysteresis of the pack.
"""

from __future__ import annotations

import math

from wattagon.physics.ride.course import STOPPED_M_S
from wattagon.physics.ride.follower import need_of_follower, need_of_pace, told_at, wish_for
from wattagon.physics.ride.jit import jit
from wattagon.physics.ride.limits import DUTY, LOW, NONE, NUDGE, OVERSPEED, RPM, brake_limit, ceiling_of, drive_limit, tell, tread
from wattagon.physics.ride.names import Col, End, Mode, Now, Stat, Sum, What
from wattagon.physics.ride.shift import AFTER_UP, caught, engage, gear_wanted, kept_speed
from wattagon.physics.ride.swim import swim
from wattagon.physics.ride.warmth import heat_step, hottest, warm
from wattagon.physics.road import GRAVITY, SLOW_PEDALS_M_S

HEAT_STEPS = 10
DEBOUNCE_S = 0.3  # a limit that acts for less is not told
STUCK_S = 3.0
FAR_M_S2 = 1e6  # an acceleration that nothing has: an end that is not known yet
STIFF, MOST_TURNS = 0.2, 60  # a step per electromechanical time constant, from where it is solved for
DIODES_V = 1.6  # two body diodes of a bridge that is off
ARRIVING_M = 0.35
FOOT_M_S, FOOT_M_S2 = 0.3, 1.5
CALM_M_S2, CALM_S = 0.004, 2.0  # at full command: the top speed is reached
CALM_PER_S = 0.004  # and it changes by less than this share: a slow start on a hill is no top speed
MOVES_M_S2 = 1e-3  # what gathers speed like this is not stuck
OVER_VOLTS = 1.10  # times a full pack's: more than any board or cell is made for


@jit
def stiffness(p, lines, dt, bare_mass):
    """(most turns of the implicit step, how far ahead of its beginning it is taken [s])."""
    # how much faster than a step the motor answers to speed; from twice on the middle of the step would ring, so its end is taken
    per_m, steepest = p.ratio / p.radius, lines[lines.shape[0] - 1, 0]
    stiff = dt * p.motors * steepest / p.radius * p.constant * p.constant * per_m / (p.ohm + p.bridge_ohm) / bare_mass
    if stiff > STIFF:
        return MOST_TURNS, dt * max(0.5, 1.0 - 1.0 / stiff)
    return 1, 0.5 * dt


@jit
def ride_loop(p, lines, factors, sea, curve, cells, script, driver, begin, room, trace, sums, stats, held, events):
    """Run until something ends it; (reason, rows of trace, events).

    lines (n, 2): those of the reduction, factors (gears,): see Plant; both and p are written when a gear is shifted.
    sea: hull and propellers of a boat, see names.Sea.  script (n,): speeds or commands over time, of the modes that play them.
    driver, begin, room: see `names`.
    Written: trace (rows, Col), sums (Sum) [J], stats (Stat), held (RIDE_LIMITS) [s], events (n, 3): time, place, What.
    """
    mode, dt, stride, steps_most = int(driver.mode), driver.step_s, int(driver.stride), int(driver.longest_s / driver.step_s + 0.5)
    follows, plays = mode == Mode.FOLLOW or mode == Mode.PACE, mode == Mode.PLAYED
    v, charge, bucket, relaxed_v = begin.speed, begin.charge, begin.bucket, begin.relaxed_v
    temps, joules, hot, hot_at, now = room.temps, room.joules, room.hot, room.hot_at, room.now
    n, per_m, top = p.motors, p.ratio / p.radius, curve.size - 1
    afloat, into = p.afloat > 0.0, 0.0
    bare_mass, weight, own = p.mass + p.wheel_mass, p.mass * GRAVITY, p.motors * p.switching
    relax, half = math.exp(-dt / p.tau1), 0.5 * dt
    turns, lead = stiffness(p, lines, dt, bare_mass)
    gear, pause, since, down_rpm, many = int(p.gear), 0.0, 1e9, p.shift_low, factors.shape[0] > 1
    shaft, coupled = per_m * v, True
    kinetic = 0.5 * bare_mass * v * v + 0.5 * n * p.inertia * shaft * shaft
    sums[Sum.KINETIC] = -kinetic
    y = driver.command if mode == Mode.COMMAND and p.rise_s <= 1e-5 else 0.0
    t = x = accel = 0.0
    cell, last = 0, cells.shape[0] - 1
    next_start = cells[1, 0] if last > 0 else driver.end_m
    waiting, stop_wait, stuck, calm = False, 0.0, 0.0, 0.0
    rows = told = step = until_heat = 0
    acting, candidate, candidate_since = NONE, NONE, 0.0
    cut_told = over_told = False
    reason = End.TIME.value
    stats[Stat.LOWEST_BUS_V] = 1e9
    while step < steps_most:
        if until_heat == 0:
            if step > 0:
                heat_step(p, temps, joules, dt * HEAT_STEPS, v)
            found = hottest(p, temps, hot, hot_at, t, step == 0)
            if found >= 0:
                told = tell(events, told, t, x, float(found))
            warm(p, temps, now)
            until_heat = HEAT_STEPS
        until_heat -= 1
        k_now, ohm, r0, r1 = now[Now.K], now[Now.OHM], now[Now.R0], now[Now.R1]
        while x >= next_start and (not waiting or mode == Mode.PACE) and cell < last:
            cell += 1
            next_start = cells[cell + 1, 0] if cell < last else driver.end_m
        grade = cells[cell, 1]
        normal = weight / math.sqrt(1.0 + grade * grade)
        was_coupled, before, side = coupled, accel, 0
        low, high, off_low, off_high = -FAR_M_S2, FAR_M_S2, 0.0, 0.0
        at = min(int(charge * top), top - 1)
        rest_v = p.series * (curve[at] + (charge * top - at) * (curve[at + 1] - curve[at]))
        emf = rest_v - relaxed_v
        room_a = max(1.0 - charge, 0.0) * p.coulombs / dt
        ceiling, ceiling_name, allowed = ceiling_of(p, now, bucket)
        # where the motor answers to speed faster than a step, the acceleration at the middle of the step is solved for
        if afloat:
            duty = reactive = shaft_nm = brake_n = own_a = 0.0
            diode_v, resisting, f_grade = 0.0, False, 0.0
            accel, f_drive, current, limit, shaft, into, f_roll, f_air, f_pedal, f_hand, hand, target = swim(
                p, lines, sea, now, cells, cell, script, driver, y, step == 0, t, x, v, dt, waiting, emf, ceiling, ceiling_name, allowed
            )
            if mode == Mode.FOLLOW and not waiting and cells[cell, 6] > 0.0 and next_start - x < ARRIVING_M + half * v:
                waiting, stop_wait = True, NONE
            loss_nm = k_now * (p.drag_a + p.drag_b * shaft) if shaft > 0.0 else 0.0
            shaft_nm, size = k_now * current - loss_nm, current
            in_phase = k_now * shaft + ohm * current + (p.brush_v if current > 0.0 else 0.0)
            own_a = own * size
            power = n * p.idle_w + n * current * in_phase
            left = emf - r0 * own_a
            volts = 0.5 * (left + math.sqrt(max(left * left - 4.0 * r0 * power, 0.0)))
            pack_a = power / volts + own_a
            reactive = p.pairs * shaft * p.henry * current
            duty = math.sqrt(in_phase * in_phase + reactive * reactive) / volts
        for attempt in range(0 if afloat else turns):
            coupled = was_coupled
            vh = max(v + lead * before, 0.0)
            if coupled:
                shaft = per_m * vh
            loss_nm = k_now * (p.drag_a + p.drag_b * shaft) if shaft > 0.0 else 0.0
            air = vh + cells[cell, 3]
            f_air = p.air_force * air * abs(air)
            f_roll = (p.rolling + p.rolling_per_speed * vh) * cells[cell, 2] * normal
            f_grade = grade * normal
            f_pedal = p.pedal_w / max(vh, SLOW_PEDALS_M_S) if p.pedal_w > 0.0 and vh < p.pedal_top and mode != Mode.STOP else 0.0
            f_other = f_pedal - f_air - f_roll - f_grade
            # 1 what is asked
            wish = brake_n = 0.0
            target = driver.command
            brake_a = max(p.regen_a, 1e-9)
            if p.resistor_ohm > 0.0:
                brake_a = max(k_now * shaft / (ohm - p.bridge_ohm + p.resistor_ohm), 1e-9)
            if mode == Mode.FOLLOW:
                to_stop = cells[cell, 6] > 0.0 or (cell == last and cells[cell, 5] < 0.0)
                if to_stop and not waiting and next_start - x < ARRIVING_M + half * v:
                    waiting, stop_wait = True, NONE
                want, target = need_of_follower(p, cells, cell, x, v, vh, waiting, driver.accel_m_s2)
            elif mode == Mode.PACE:
                want, target, waiting = need_of_pace(script, driver.script_s, t, vh)
            if follows:
                wish, brake_n = wish_for(p, lines, k_now, bare_mass * want - f_other, want, loss_nm, shaft, vh, coupled)
                if waiting and (v <= 0.0 or mode == Mode.PACE):  # a foot or a hand holds it, not the motor
                    wish = 0.0
                asked = min(wish / p.burst_a, 1.0) if wish >= 0.0 else max(wish / brake_a, -1.0)
            elif mode == Mode.STOP:
                brake_n, asked = 1e6, -1.0
            elif plays:
                target = asked = told_at(script, driver.script_s, t)
            else:
                asked = driver.command
            hand = asked if (step == 0 and follows) or mode == Mode.PACE or plays else y
            rising = (asked > hand) == (hand >= 0.0) or hand == 0.0  # away from rest
            reach = dt / p.rise_s if rising else dt / p.fall_s
            hand = min(asked, hand + reach) if asked > hand else max(asked, hand - reach)
            if pause > 0.0:  # a chain is shifted without torque
                hand = current = 0.0
            elif follows and hand == asked:
                current = wish
            elif hand >= 0.0:
                current = hand * (p.burst_a if follows else ceiling)
            else:
                current = hand * brake_a
            # 2 what is allowed
            wanted, limit = current, NONE
            if current > 0.0:
                full = (mode == Mode.COMMAND or plays) and hand >= 1.0
                current, limit = drive_limit(p, lines, now, current, full, ceiling, ceiling_name, allowed, shaft, loss_nm, emf, normal)
            elif current < 0.0:
                size, limit = brake_limit(p, lines, now, -current, shaft, loss_nm, emf, normal, vh, room_a)
                current = -size
            if follows and abs(current) > (1.0 - NUDGE) * abs(wanted):
                limit = NONE
            diode_v = 0.0
            resisting = p.resistor_ohm > 0.0 and current < 0.0
            if p.one_way == 0.0 and not resisting and k_now * shaft > emf + DIODES_V + p.brush_v:
                # a bridge that the motor outruns: body diodes charge the pack, whatever is asked
                forced = (k_now * shaft - emf - DIODES_V - p.brush_v) / (ohm + n * r0)
                if current > -forced:
                    current, diode_v, limit = -forced, DIODES_V, OVERSPEED
            # 3 volts, force, motion
            size = abs(current)
            brush_v = p.brush_v if current > 0.0 else (-p.brush_v if current < 0.0 else 0.0)
            in_phase = k_now * shaft + ohm * current + brush_v
            own_a = 0.0 if resisting or diode_v > 0.0 else own * size
            power = n * p.idle_w + (0.0 if resisting else n * (current * in_phase + diode_v * size))
            left = emf - r0 * own_a
            volts = 0.5 * (left + math.sqrt(max(left * left - 4.0 * r0 * power, 0.0)))
            pack_a = power / volts + own_a
            reactive = p.pairs * shaft * p.henry * current
            duty = 0.0 if resisting or diode_v > 0.0 else math.sqrt(in_phase * in_phase + reactive * reactive) / volts
            shaft_nm = k_now * current - loss_nm
            f_drive = 0.0
            if coupled:
                accel, f_drive, coupled = tread(p, lines, shaft_nm, f_other, v)
            else:
                f_drive = n * p.floor_nm / p.radius if v > 0.0 else 0.0
                accel = (f_other + f_drive) / bare_mass
            f_hand = 0.0
            if brake_n > 0.0 and p.friction_n > 0.0 and v > 0.0:
                # brakes of hand or foot take what the motor leaves; all wheels may brake
                braked = min(f_drive, 0.0)
                f_hand = max(min(brake_n + braked, p.friction_n, min(p.grip, p.pitch_share) * normal + braked), 0.0)
                accel -= f_hand / bare_mass
            if waiting and v < FOOT_M_S and accel > -FOOT_M_S2:  # a foot on the ground does the rest
                f_hand += (accel + FOOT_M_S2) * bare_mass
                accel = -FOOT_M_S2
            if v <= 0.0 and (accel < 0.0 or waiting):
                accel = f_hand = 0.0
            off = accel - before
            if attempt + 1 >= turns or abs(off) < 1e-7 * (1.0 + abs(accel)):
                break
            # the acceleration that follows falls with the one that is supposed: between two of unlike sign by the rule of false position
            if off > 0.0:
                low, off_low = before, off
                if side == 1:
                    off_high *= 0.5
                side = 1
            else:
                high, off_high = before, off
                if side == -1:
                    off_low *= 0.5
                side = -1
            if low > -FAR_M_S2 and high < FAR_M_S2:
                before = (low * off_high - high * off_low) / (off_high - off_low)
                continue
            steep = 0.0
            if limit == DUTY or diode_v > 0.0:
                steep = n * lines[lines.shape[0] - 1, 0] / p.radius * k_now * k_now * per_m / (ohm + n * r0) / bare_mass
            elif resisting:
                steep = (
                    n * lines[lines.shape[0] - 1, 0] / p.radius * k_now * k_now * per_m / (ohm - p.bridge_ohm + p.resistor_ohm) / bare_mass
                )
            before += off / (1.0 + lead * steep)
        y = hand
        if diode_v > 0.0 and not over_told:
            over_told = True
            told = tell(events, told, t, x, What.OVERSPEED.value)
        v_new = max(v + accel * dt, 0.0)
        v_mid = 0.5 * (v + v_new)
        moved = v_mid * dt
        accel = (v_new - v) / dt
        # 4 ledger, at the middle of the step
        turn, shaft_new, spun = shaft if afloat else per_m * v_mid, shaft, p.inertia * per_m * accel
        if coupled and turns > 1 and not afloat:
            sums[Sum.MESH] += n * k_now * current * (shaft - turn) * dt  # given at the speed of the step's end
        if not coupled and not afloat:
            # the rotor alone; near its free speed current falls steeply with speed, so that side is taken implicitly
            free_nm = shaft_nm - lines[0, 1] if shaft > 0.0 or shaft_nm > lines[0, 1] else 0.0
            stiff = k_now * k_now / ohm * dt if limit == DUTY else 0.0
            shaft_new = max(shaft + free_nm / (p.inertia + stiff) * dt, 0.0)
            turn, spun = 0.5 * (shaft + shaft_new), p.inertia * (shaft_new - shaft) / dt
            sums[Sum.MESH] += n * k_now * current * (shaft - turn) * dt  # given at the speed of the step's beginning
        if afloat:
            sums[Sum.MESH] += (n * shaft_nm * turn - into) * dt
            sums[Sum.STIRRED] += (into - f_drive * v_mid) * dt
        else:
            sums[Sum.MESH] += (n * (shaft_nm - spun) * turn - f_drive * v_mid) * dt
        if not coupled and current > 0.0 and shaft_new >= per_m * v_new:
            coupled = True  # what it spun beyond the road's speed is lost in the clutch
            sums[Sum.MESH] += 0.5 * n * p.inertia * (shaft_new * shaft_new - (per_m * v_new) ** 2)
        e_pack = pack_a * dt
        relaxed_new = pack_a * r1 + (relaxed_v - pack_a * r1) * relax
        stored = 0.5 * p.tau1 / max(r1, 1e-9) * (relaxed_new * relaxed_new - relaxed_v * relaxed_v)
        through_pair = 0.5 * (relaxed_v + relaxed_new) * e_pack
        pack_heat = r0 * pack_a * e_pack + through_pair - stored
        copper = n * (ohm - p.bridge_ohm) * current * current * dt
        fet = 0.0 if resisting else n * (p.bridge_ohm * current * current + diode_v * size) * dt
        iron, brush = n * loss_nm * turn * dt, n * p.brush_v * size * dt
        res = n * k_now * turn * size * dt - copper - brush if resisting else 0.0
        each_k = (fet + own_a * volts * dt) / n + p.idle_w * dt
        sums[Sum.CHEMICAL] += (volts + r0 * pack_a) * e_pack + through_pair
        sums[Sum.PACK_HEAT] += pack_heat
        sums[Sum.RELAXATION] += stored
        sums[Sum.TERMINAL] += volts * e_pack
        sums[Sum.COPPER] += copper
        sums[Sum.BRIDGE] += fet
        sums[Sum.SWITCHING] += own_a * volts * dt
        sums[Sum.IDLE] += n * p.idle_w * dt
        sums[Sum.BRUSH] += brush
        sums[Sum.IRON] += iron
        sums[Sum.RESISTOR] += res
        sums[Sum.ROLLING] += f_roll * moved
        sums[Sum.AIR] += f_air * moved
        sums[Sum.GRADE] += f_grade * moved
        sums[Sum.FRICTION] += f_hand * moved
        sums[Sum.RIDER] += f_pedal * moved
        if pack_a < 0.0:
            sums[Sum.REGENERATED] -= rest_v * e_pack
        joules[0] += (copper + p.iron_share * iron + brush) / n
        joules[1] += (1.0 - p.iron_share) * iron / n
        joules[2] += each_k
        joules[3] += pack_heat
        joules[4] += res
        load = size / p.continuous_a
        bucket += (load * load - bucket) / p.boost_tau * dt
        # record
        if step % stride == 0 and rows == trace.shape[0]:  # full: every second row stays, and rows are twice as far apart
            rows //= 2
            for k in range(1, rows):
                trace[k] = trace[2 * k]
            stride *= 2
        if step % stride == 0:
            trace[rows, Col.TIME], trace[rows, Col.DISTANCE], trace[rows, Col.SPEED], trace[rows, Col.DC_A] = t, x, v, current
            trace[rows, Col.PACK_A], trace[rows, Col.BUS_V], trace[rows, Col.DUTY], trace[rows, Col.FORCE] = (
                pack_a,
                volts,
                duty,
                f_drive,
            )
            (
                trace[rows, Col.WINDING],
                trace[rows, Col.CASE],
                trace[rows, Col.CONTROLLER],
                trace[rows, Col.PACK_T],
                trace[rows, Col.RESISTOR_T],
            ) = temps[0], temps[1], temps[2], temps[3], temps[4]
            (
                trace[rows, Col.CHARGE],
                trace[rows, Col.BUCKET],
                trace[rows, Col.LIMIT],
                trace[rows, Col.GRADE],
                trace[rows, Col.COMMAND],
            ) = charge, bucket, float(limit), grade, y
            trace[rows, Col.MOTOR_RAD_S], trace[rows, Col.CEILING_A], trace[rows, Col.RELAXED_V], trace[rows, Col.ACCEL] = (
                shaft,
                ceiling,
                relaxed_v,
                accel,
            )
            trace[rows, Col.GEAR] = gear + 1.0 if many else 0.0
            rows += 1
        stats[Stat.PEAK_DC_A] = max(stats[Stat.PEAK_DC_A], current)
        stats[Stat.PEAK_BRAKE_A] = max(stats[Stat.PEAK_BRAKE_A], -current)
        stats[Stat.PEAK_PACK_A] = max(stats[Stat.PEAK_PACK_A], pack_a)
        stats[Stat.PEAK_CHARGE_A] = max(stats[Stat.PEAK_CHARGE_A], -pack_a)
        stats[Stat.PEAK_W] = max(stats[Stat.PEAK_W], volts * pack_a)
        stats[Stat.LOWEST_BUS_V] = min(stats[Stat.LOWEST_BUS_V], volts)
        stats[Stat.HIGHEST_BUS_V] = max(stats[Stat.HIGHEST_BUS_V], volts)
        stats[Stat.PEAK_SPEED] = max(stats[Stat.PEAK_SPEED], v_new)
        stats[Stat.PEAK_ACCEL] = max(stats[Stat.PEAK_ACCEL], abs(accel))
        stats[Stat.DC_SQUARE_S] += current * current * dt
        stats[Stat.DC_ABS_S] += size * dt
        stats[Stat.PACK_S] += max(pack_a, 0.0) * dt
        stats[Stat.PACK_SQUARE_S] += pack_a * e_pack
        if v_new < 0.02:
            stats[Stat.STANDING_S] += dt
        if grade > 0.0:
            stats[Stat.UP_M] += moved * grade / math.sqrt(1.0 + grade * grade)
        if limit >= 0:
            held[limit] += dt
            if limit == LOW and not cut_told:
                cut_told = True
                told = tell(events, told, t, x, What.CUTBACK.value)
        # a limit counts as begun or ended once it has lasted
        if limit != candidate:
            candidate, candidate_since = limit, t
        if candidate != acting and t - candidate_since >= DEBOUNCE_S:
            if acting >= 0:
                told = tell(events, told, candidate_since, x, What.LIMIT_ENDS.value + float(acting))
            if candidate >= 0:
                told = tell(events, told, candidate_since, x, What.LIMIT_BEGINS.value + float(candidate))
            acting = candidate
        # onwards
        charge -= e_pack / p.coulombs
        relaxed_v, v, shaft = relaxed_new, v_new, shaft_new
        x += moved if not afloat else 0.0 if waiting else moved - cells[cell, 7] * dt
        t += dt
        step += 1
        if many:
            pause -= dt
            since += dt
            if pause <= 0.0 and mode != Mode.STOP:
                most_nm = k_now * ceiling - loss_nm
                to = gear_wanted(p, lines, factors, gear, v, limit, bare_mass, f_other, most_nm, down_rpm, since)
                if to != gear:
                    engage(p, lines, factors, gear, to)
                    v, shaft, coupled, lost = caught(p, bare_mass, v, shaft, coupled, per_m)
                    sums[Sum.MESH] += lost
                    per_m = p.ratio / p.radius
                    turns, lead = stiffness(p, lines, dt, bare_mass)
                    rpm = kept_speed(p, v, bare_mass, f_other) / p.radius * p.crank_ratio * RPM
                    down_rpm = min(p.shift_low, AFTER_UP * rpm) if to > gear else p.shift_low
                    gear, pause, since = to, p.shift_pause, 0.0
                    stats[Stat.SHIFTS] += 1.0
        if waiting and v <= 0.0 and mode == Mode.FOLLOW:
            if stop_wait < 0.0:
                stop_wait = cells[cell, 6]
                told = tell(events, told, t, x, What.LEG_STOP.value)
                if cell == last:
                    reason = End.ARRIVED.value
                    break
            stop_wait -= dt
            if stop_wait <= 0.0:
                waiting = False
                x = max(x, next_start)
        if charge <= driver.end_charge:
            reason = End.EMPTY.value
            break
        if diode_v > 0.0 and (charge >= 1.0 or volts > OVER_VOLTS * p.bus_max):
            reason = End.OVERCHARGED.value
            break
        if driver.stop_when_hot > 0.0 and (hot_at[0] >= 0.0 or hot_at[1] >= 0.0 or hot_at[2] >= 0.0 or hot_at[3] >= 0.0):
            reason = End.HOT.value
            break
        if mode == Mode.STOP and v <= 0.0:
            reason = End.STOPPED.value
            break
        if mode == Mode.FOLLOW and x >= driver.end_m and not waiting:
            reason = End.ARRIVED.value
            break
        if driver.end_speed > 0.0 and v >= driver.end_speed:
            reason = End.SPEED.value
            break
        if mode == Mode.COMMAND and driver.until_settled > 0.0:
            calm = calm + dt if abs(accel) < min(CALM_M_S2, CALM_PER_S * v) and v > STOPPED_M_S else 0.0
            if calm > CALM_S:
                reason = End.SETTLED.value
                break
        if v < STOPPED_M_S and accel < MOVES_M_S2 and not waiting and (mode == Mode.FOLLOW or mode == Mode.COMMAND) and target > 0.3:
            stuck += dt
            if stuck > STUCK_S:
                reason = End.STALLED.value
                break
        else:
            stuck = 0.0
    if until_heat < HEAT_STEPS:  # what arose since the last heat step
        heat_step(p, temps, joules, dt * (HEAT_STEPS - until_heat), v)
        hottest(p, temps, hot, hot_at, t, False)
    sums[Sum.KINETIC] += 0.5 * bare_mass * v * v + 0.5 * n * p.inertia * ((per_m * v) ** 2 if coupled else shaft * shaft)
    stats[Stat.TIME], stats[Stat.DISTANCE], stats[Stat.CHARGE], stats[Stat.BUCKET] = t, x, charge, bucket
    stats[Stat.SPEED], stats[Stat.STEPS], stats[Stat.RELAXED_V] = v, float(step), relaxed_v
    for k in range(5):
        stats[Stat.WINDING + k], stats[Stat.WINDING_AT + k] = hot[k], hot_at[k]
        stats[Stat.LAST_WINDING + k] = temps[k]
    return reason, rows, told
