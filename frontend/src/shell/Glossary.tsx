import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, useLocation, useNavigate } from "react-router";
import { api, taken } from "../api/client";

/** Every term that the product uses, in a sentence; the one that was asked for in sight. */
export function Glossary() {
  const { hash } = useLocation();
  const navigate = useNavigate();
  const { data } = useQuery({
    queryKey: ["glossary"],
    queryFn: async () => taken(await api.GET("/api/glossary")),
  });
  useEffect(() => {
    document.title = "Glossary · Humble Relay";
    if (data && hash) document.getElementById(hash.slice(1))?.scrollIntoView({ block: "center" });
  }, [data, hash]);
  return (
    <main className="mx-auto max-w-3xl px-5 py-4">
      <p className="no-print mb-2 flex gap-x-5">
        <button type="button" className="link" onClick={() => navigate(-1)}>
          Back
        </button>
        <Link className="link" to="/">
          All plans
        </Link>
      </p>
      <h1 className="mb-3 text-title font-semibold">Glossary</h1>
      <dl>
        {data?.map(({ id, term, meaning, source }) => (
          <div
            key={id}
            id={id}
            className={`border-rule grid gap-x-5 border-t py-1.5 sm:grid-cols-[220px_minmax(0,1fr)] ${hash === `#${id}` ? "bg-wash" : ""}`}
          >
            <dt className="font-semibold">{term}</dt>
            <dd>
              {meaning} {source && <span className="text-faint text-note">{source}</span>}
            </dd>
          </div>
        ))}
      </dl>
    </main>
  );
}
