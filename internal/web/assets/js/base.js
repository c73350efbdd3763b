// at is an address of this server as the browser asks for it: below the path that Turret is served under, where there is one.
export function at(address) {
  return (document.documentElement.dataset.base ?? "") + address;
}
