/** A phone at the bench: a code to pair it, the devices that are paired, and what plain home networks cannot give. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, plainWords, type Problem } from "../../api/client";
import { Push } from "../../parts/Push";

const when = new Intl.DateTimeFormat("en-GB", { dateStyle: "medium", timeStyle: "short" });

export function Devices() {
  const client = useQueryClient();
  const [code, setCode] = useState<{ code: string; url: string; svg: string } | null>(null);
  const [why, setWhy] = useState("");
  const { data } = useQuery({
    queryKey: ["lan"],
    queryFn: async () => (await api.GET("/api/lan")).data ?? null,
    refetchInterval: code ? 2000 : false,
  });
  if (!data) return null; // a paired device does not pair others
  const ask = async () => {
    const { data: made, error } = await api.POST("/api/lan/code");
    if (made) setCode(made);
    else setWhy(plainWords((error as { problems?: Problem[] }).problems));
  };
  const turnOut = async (id: string) => {
    const { data: now } = await api.DELETE("/api/lan/devices/{device_id}", {
      params: { path: { device_id: id } },
    });
    if (now) client.setQueryData(["lan"], now);
  };
  return (
    <section aria-labelledby="devices" data-testid="devices">
      <h2 id="devices" className="text-lg font-semibold">
        A phone at the bench
      </h2>
      {data.on ? (
        <>
          <p className="mt-1 max-w-3xl text-sm">
            Open to your home network at {data.urls.join(", ")}, for paired devices only.{" "}
            {data.secure
              ? "The connection is encrypted by a certificate made on this machine; compare its fingerprint on the device once."
              : "Over plain HTTP a browser will not install the page, keep the screen awake, or open it again while this machine is off; what is open goes on, and loses nothing. Start with --certificate for those."}
          </p>
          {data.secure ? <p className="mt-1 text-xs break-all">{data.fingerprint}</p> : null}
          {code ? (
            <div className="mt-2 flex flex-wrap items-center gap-4">
              <img
                alt="QR code of the pairing address"
                width={210}
                src={`data:image/svg+xml;utf8,${encodeURIComponent(code.svg.replace("<svg", '<svg xmlns="http://www.w3.org/2000/svg"'))}`}
              />
              <p className="text-sm">
                Point the phone’s camera at it, or open
                <br />
                <strong data-testid="pair-url" className="break-all">
                  {code.url}
                </strong>
                <br />
                Good once, for five minutes.
              </p>
            </div>
          ) : (
            <Push className="mt-2" onClick={() => void ask()}>
              Show a pairing code
            </Push>
          )}
        </>
      ) : (
        <p className="mt-1 max-w-3xl text-sm">
          Nothing listens beyond this machine. To take a phone or tablet to the bench, start Emvar with{" "}
          <strong>./emvar serve --lan</strong>: it shows a code to scan.
        </p>
      )}
      {why ? <p role="alert">{why}</p> : null}
      {data.devices.length ? (
        <ul className="mt-2 max-w-xl text-sm">
          {data.devices.map((d) => (
            <li key={d.id} className="flex items-center gap-3 border-t border-line py-1">
              <span className="grow">
                {d.name}{" "}
                <span className="text-ink-2">
                  paired {when.format(new Date(d.paired_at))}
                  {d.seen_at ? `, last here ${when.format(new Date(d.seen_at))}` : ", not here yet"}
                </span>
              </span>
              <Push onClick={() => void turnOut(d.id)}>Turn out</Push>
            </li>
          ))}
        </ul>
      ) : null}
    </section>
  );
}
