/** The figures that suppliers are judged by, in a few words. */
export const figureNames: Record<string, [string, string]> = {
  on_time: ['On time', 'lines complete by the day they were due'],
  in_full: ['In full', 'lines whose first delivery was within the limits of what was ordered'],
  quantity: ['Quantity', 'how near what came is to what was ordered'],
  price: ['Price', 'lines invoiced within the limits of the price'],
  returns: ['Returns', 'of the value that came, what went back'],
}
