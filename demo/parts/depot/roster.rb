# Who drives what tomorrow.
require 'alder/house'

def roster(drivers, trams)
  free = drivers.select { |driver| driver.rested? }.first
  return { :tram => nil, :driver => nil } if trams.length == 0

  { :tram => trams.first, :driver => free } # the rest stay in the depot
end
