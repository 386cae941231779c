/** Texts of the frame round all screens. */
export const app = {
  desk: "Desk",
  customers: "Customers",
  figures: "Figures",
  shelf: "Shelf",
  bench: "Bench",
  horismos: "Horismos",
  placesLabel: "places",
  changeYourPassword: "Change your password",
  logOut: "Log out",
  thereIsNothingHereGo: "There is nothing here. Go back to the Desk.",
  seeLengthsInTheOther: "See lengths in the other unit, here and on your other screens",
  lengthsInChangeTo: (isMm: boolean) =>
    `Lengths in ${isMm ? "millimetres" : "inches"}; change to ${isMm ? "inches" : "millimetres"}`,
};
