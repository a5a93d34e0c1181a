package alder.farebox;

import alder.house.Money;
import java.util.HashMap;
import java.util.Map;

/** Sells a ticket for some zones. */
class FareMachine {
    private final Map<Integer, Money> fares = new HashMap<Integer, Money>();

    void load() {
        fares.put(1, Money.of(210)); // one zone
        fares.put(2, Money.of(290));
    }

    Money sell(int zones, boolean child) {
        Money fare = fares.get(zones);
        if (child) fare = Money.of(fare.cents() / 2);
        return fare;
    }
}
