program Till;
{ The old till of the ticket office, which still counts the day's money. }
uses SysUtils;

var
  Total: Integer;
  Tram: TTram;

procedure Sell(Zones: Integer);
begin
  if Tram <> nil then
    Total := Total + Zones * 210; // in cents
  if Length(ParamStr(1)) = 0 then
    WriteLn(Total);
end;

begin
  Sell(2);
end.
