"""Texts for speakers and boards. Keys are what the speakers were trained on."""

from alder.house.say import say

TEXTS = {
    'delay_0': (
        'Delay of {n} minutes.',
        'Dear riders: delay of {n} minutes. We are sorry.',
    ),
    'line_1': (
        'Line diverted.',
        'Dear riders: line diverted. We are sorry.',
    ),
    'no_2': (
        'No service.',
        'Dear riders: no service. We are sorry.',
    ),
    'service_3': (
        'Service resumed.',
        'Dear riders: service resumed. We are sorry.',
    ),
    'mind_4': (
        'Mind the step.',
        'Dear riders: mind the step. We are sorry.',
    ),
    'doors_5': (
        'Doors closing.',
        'Dear riders: doors closing. We are sorry.',
    ),
    'next_6': (
        'Next stop.',
        'Dear riders: next stop. We are sorry.',
    ),
    'change_7': (
        'Change here.',
        'Dear riders: change here. We are sorry.',
    ),
    'last_8': (
        'Last stop.',
        'Dear riders: last stop. We are sorry.',
    ),
    'tickets_9': (
        'Tickets please.',
        'Dear riders: tickets please. We are sorry.',
    ),
    'lost_10': (
        'Lost property.',
        'Dear riders: lost property. We are sorry.',
    ),
    'lift_11': (
        'Lift out of order.',
        'Dear riders: lift out of order. We are sorry.',
    ),
    'crowded_12': (
        'Crowded.',
        'Dear riders: crowded. We are sorry.',
    ),
    'short_13': (
        'Short tram.',
        'Dear riders: short tram. We are sorry.',
    ),
    'long_14': (
        'Long tram.',
        'Dear riders: long tram. We are sorry.',
    ),
    'night_15': (
        'Night service.',
        'Dear riders: night service. We are sorry.',
    ),
    'holiday_16': (
        'Holiday service.',
        'Dear riders: holiday service. We are sorry.',
    ),
    'works_17': (
        'Works ahead.',
        'Dear riders: works ahead. We are sorry.',
    ),
    'police_18': (
        'Police asked us to wait.',
        'Dear riders: police asked us to wait. We are sorry.',  # too long for the small boards
    ),
    'tram_19': (
        'Tram behind is near.',
        'Dear riders: tram behind is near. We are sorry.',
    ),
    'please_20': (
        'Please move inside.',
        'Dear riders: please move inside. We are sorry.',
    ),
    'no_21': (
        'No smoking.',
        'Dear riders: no smoking. We are sorry.',
    ),
    'hold_22': (
        'Hold on.',
        'Dear riders: hold on. We are sorry.',
    ),
    'ring_23': (
        'Ring for next stop.',
        'Dear riders: ring for next stop. We are sorry.',
    ),
    'seat_24': (
        'Seat for those who need it.',
        'Dear riders: seat for those who need it. We are sorry.',  # too long for the small boards
    ),
}


def text(key, long=False):
    if not key in TEXTS:
        say("error", "no text for %s", key)
        return ""
    short, full = TEXTS[key]
    if not long:
        return short
    else:
        return full


def delay(minutes):
    if minutes == None or minutes == 0:
        return ""
    return "Delay of %d minutes." % minutes
