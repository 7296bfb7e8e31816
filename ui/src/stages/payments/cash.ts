// How certain it is that money leaves, drawn: the surest dark and at the foot.
export const certainties: Record<string, { fill: string; edge: string; dashed?: boolean }> = {
  in_run: { fill: '#14302e', edge: '#14302e' },
  released: { fill: '#1f6b4f', edge: '#14302e' },
  verified: { fill: '#8fb5a2', edge: '#1f6b4f' },
  held: { fill: '#e7a9a4', edge: '#ab2f33' },
  received: { fill: '#a9bdd2', edge: '#3c5c7d' },
  ordered: { fill: '#fffdf9', edge: '#4d6260', dashed: true },
  agreed: { fill: '#e4d8bd', edge: '#4d6260' },
}
