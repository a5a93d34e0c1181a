// The lamps of the signal box at the iron bridge.
#include <vector>

typedef std::vector<int> lamps_t;

namespace alder {
    namespace signals {
        int lit(const lamps_t& lamps) {
            int count = 0;
            for (int lamp : lamps) {
                if (lamp != 0) ++count; // a lamp may be dim
            }
            return static_cast<int>(count);
        }
    }
}
