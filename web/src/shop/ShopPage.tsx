import { Loader } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { Navigate, NavLink, useParams } from "react-router";
import { blocking } from "../api/blocking";
import { api, type CatalogName, take } from "../api/client";
import { key } from "../api/keys";
import { Band } from "../app/Band";
import { useTitle } from "../app/title";
import { SignInFirst } from "../people/SignInFirst";
import { CatalogTable } from "./CatalogTable";
import { PartsPage } from "./PartsPage";
import "./shop.css";

/** The shop's lists; each is a page of one and the same table. */
export function ShopPage() {
  const { list } = useParams();
  const lists = useQuery({ queryKey: key.catalog(), queryFn: () => take(api.GET("/catalog")), staleTime: 60_000 });
  useTitle(list === "parts" ? "Driveline parts" : lists.data?.find((l) => l.list.id === list)?.list.name, "Shop");
  const stop = blocking(lists);
  if (stop) return <SignInFirst error={stop} />;
  if (!lists.data) return <Loader m="xl" />;
  const info = lists.data.find((l) => l.list.id === list);
  if (!info && list !== "parts") return <Navigate to="/shop/gear_sets" replace />;
  return (
    <>
      <Band className="shop-band">
        <h1>The shop's lists</h1>
        <nav aria-label="Lists">
          {lists.data.map((l) => (
            <NavLink key={l.list.id} to={`/shop/${l.list.id}`}>
              {l.list.name}
            </NavLink>
          ))}
          <NavLink to="/shop/parts">Driveline parts</NavLink>
          <NavLink to="/experience">Other shops' experience</NavLink>
        </nav>
      </Band>
      {info ? <CatalogTable key={info.list.id} list={info.list} name={info.list.id as CatalogName} /> : <PartsPage />}
    </>
  );
}
