import { createRouter, createWebHistory } from 'vue-router'

export const router = createRouter({
  history: createWebHistory('/'),
  routes: [
    { path: '/', name: 'shelf', component: () => import('./views/ShelfView.vue') },
    { path: '/trays/new', name: 'new-tray', component: () => import('./views/NewTrayView.vue') },
    { path: '/trays/:number(\\d+)/labels', name: 'labels', component: () => import('./views/LabelsView.vue') },
    { path: '/trays/:number(\\d+)/:stage?', name: 'tray', component: () => import('./views/TrayView.vue') },
    {
      path: '/trays/:number(\\d+)/accounts/:place(\\d+)/:stage?',
      name: 'account',
      component: () => import('./views/TrayView.vue'),
    },
    {
      path: '/trays/:number(\\d+)/accounts/:place(\\d+)/conversations/:conversation(\\d+)',
      name: 'ledger',
      component: () => import('./views/LedgerView.vue'),
    },
    { path: '/cupboard', name: 'cupboard', component: () => import('./views/CupboardView.vue') },
    { path: '/cupboard/import', name: 'import', component: () => import('./views/ImportView.vue') },
    { path: '/cupboard/:backup', name: 'from-cupboard', component: () => import('./views/FromCupboardView.vue') },
    { path: '/cupboard/:backup/copies', name: 'copies', component: () => import('./views/CopiesView.vue') },
    { path: '/cupboard/:backup/look', name: 'look', component: () => import('./views/LookView.vue') },
    {
      path: '/cupboard/:backup/conversations/:conversation(\\d+)',
      name: 'kept-ledger',
      component: () => import('./views/KeptLedgerView.vue'),
    },
    { path: '/cupboard/:backup/against', name: 'against', component: () => import('./views/AgainstView.vue') },
    { path: '/second-place', name: 'second-place', component: () => import('./views/SecondPlaceView.vue') },
    { path: '/figures', name: 'figures', component: () => import('./views/FiguresView.vue') },
    { path: '/customers/:customer(\\d+)', name: 'customer', component: () => import('./views/CustomerView.vue') },
    { path: '/stand-in', name: 'stand-in', component: () => import('./views/StandinView.vue') },
    { path: '/users', name: 'users', component: () => import('./views/UsersView.vue') },
    { path: '/bench', name: 'bench', component: () => import('./views/BenchView.vue') },
    { path: '/wall', name: 'wall', component: () => import('./views/WallView.vue') },
    { path: '/log', name: 'log', component: () => import('./views/LogView.vue') },
    { path: '/:rest(.*)', name: 'nowhere', component: () => import('./views/NowhereView.vue') },
  ],
})
