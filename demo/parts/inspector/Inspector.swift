import Foundation

/// What an inspector sees of the riders of a tram.
struct Inspector {
    let riders: [Rider]

    func check() -> String {
        if riders.count == 0 { return "empty" }
        let without = riders.filter { rider in rider.ticket == nil } // they may have a pass
        return without.count > 0 ? "\(without.count) without a ticket" : "all paid"
    }
}
