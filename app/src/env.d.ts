/// <reference types="astro/client" />

declare namespace App {
  interface Locals {
    /** The line of the table that a request is answered by; absent for pages. */
    endpoint?: import('./contract/endpoints').Endpoint;
  }
}
