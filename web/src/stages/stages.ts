/** The ten stages in the order of the work. */
export interface Stage { readonly number: number; readonly key: string; readonly name: string; readonly computed: string }

export const STAGES: readonly Stage[] = [
  { number: 1, key: '1', name: 'Brief', computed: 'Inventory split by practice, demand by space and hour, open questions, forgotten drops.' },
  { number: 2, key: '2', name: 'Plan', computed: 'Walls from drawings, spaces from loops, gaps, doors and storeys against usual sizes.' },
  { number: 3, key: '3', name: 'Air', computed: 'Rays through every wall, opening and slab and what goes round; both ways; every space against its need; channels, airtime, walks.' },
  { number: 4, key: '4', name: 'Links', computed: 'Which runs leave a building, their length and their earths. Fibre, bridge and mesh are compared later.' },
  { number: 5, key: '5', name: 'Runs', computed: 'Every route through void and riser, its length and limit by heat, speed by category, ratings, conduit fill.' },
  { number: 6, key: '6', name: 'Power & ports', computed: 'Voltage at every device, budgets by three methods, a port for every run.' },
  { number: 7, key: '7', name: 'Network', computed: 'Networks clear of the service and each other, scopes by count, airtime of names.' },
  { number: 8, key: '8', name: 'Order', computed: 'Kit list with packs and spares, hours by task.' },
  { number: 9, key: '9', name: 'Fit', computed: 'Not computed yet: order of work, pull sheets and labels. Hours already stand in Order.' },
  { number: 10, key: '0', name: 'Prove', computed: 'Not computed yet: test records, survey, handover.' },
]
