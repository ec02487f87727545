/** `table --gateway`: the services behind a gateway as one table. */
import type { Service } from '../core/checks/engine/context.ts';
import { type Behind, isNearer } from '../core/routes/follow/gateway.ts';
import type { Route } from '../core/routes/table/route.ts';
import { fail } from '../files/problem.ts';
import type { TableView } from '../views/table.ts';

/** The routes of all services as one table, each handler behind the name of its service. Fails where no gateway is declared. */
export function gatewayTable(services: readonly Service[], views: readonly TableView[]): TableView {
  const gateway = services[0]?.gateway;
  const [first] = views;
  if (gateway === undefined || first === undefined)
    return fail('', 'no gateway is declared; write gateway: { choose: order } or { choose: longest-prefix } in elm-gate.yaml');
  const behindOf = (service: Service | undefined): Behind => service?.behind ?? { mount: '/' };
  const owned = views.map((view) => ({ view, owner: services.find((s) => s.table === view.table) }));
  if (gateway.choice === 'longest-prefix')
    owned.sort((a, b) =>
      isNearer(behindOf(a.owner), behindOf(b.owner)) ? -1 : isNearer(behindOf(b.owner), behindOf(a.owner)) ? 1 : 0,
    );
  const own = new Map<Route, readonly [Route, TableView]>();
  for (const { view, owner } of owned) {
    const { host, headers = {}, version } = behindOf(owner);
    const conditions = { ...(host === undefined ? {} : { host }), ...(version === undefined ? {} : { version: [version] }) };
    for (const route of view.routes) {
      const shown = {
        ...route,
        handler: `${owner?.name ?? view.table.service}: ${route.handler}`,
        conditions: { ...conditions, ...route.conditions },
      };
      own.set(Object.keys(headers).length === 0 ? shown : { ...shown, conditions: { ...shown.conditions, headers } }, [
        route,
        view,
      ]);
    }
  }
  const routes = [...own.keys()];
  const order = new Map(routes.map((route, i) => [route, i + 1]));
  const chosen = gateway.choice === 'order' ? 'the first that is named' : 'the one with the longest mount';
  const table = { ...first.table, service: 'the gateway', routes };
  return {
    ...{ table, routes },
    locate: (place) => views.map((v) => v.locate(place)).find((p) => p !== undefined),
    orderText: `the gateway asks ${chosen} of the services that fit (gateway: in elm-gate.yaml)`,
    order: (route) => order.get(route) ?? 0,
    mark: (route) => {
      const [original, view] = own.get(route) ?? [];
      return original === undefined ? undefined : view?.mark(original);
    },
  };
}
