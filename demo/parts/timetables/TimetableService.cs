using System;
using Alder.House;

namespace Alder.Timetables
{
    public class TimetableService
    {
        private readonly Line line;

        public TimetableService(Line line)
        {
            this.line = line; // checked by the caller
        }

        public string Next(DateTime now)
        {
            Departure next = new Departure(line, now);
            return next == null ? "none" : Stamp.Of(next.Time, "HH:mm");
        }
    }
}
