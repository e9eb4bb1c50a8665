/** Invented people: names are drawn from many places and put together at random. */
export const givenNames = (
  "Aoife Amara Anselm Beatriz Bilal Bronagh Cahal Chidi Chiara Darragh Dilnoza Eilis Emeka Esra Farah Fionn Freya " +
  "Gethin Giulia Hana Haruka Idris Ines Iseult Jakub Jarlath Jin Kamila Keanu Kofi Laleh Leilani Liadan Lorcan Lucía Maeve " +
  "Mahmoud Malachy Manaia Mei Mirela Nadia Naoise Nikolai Nkechi Noor Oisín Olamide Orla Paloma Priya Quentin Rafael " +
  "Rania Ravi Roisin Rosalind Saoirse Senan Shira Siddharth Sinéad Sofia Tadhg Tamsin Tarek Thandiwe Tomasz Uche " +
  "Una Valentina Viktor Wanjiru Xiomara Yannick Yusra Zainab Zeynep Ángel Åsa Özlem"
).split(" ");
export const familyNames = (
  "Abara Achterberg Adeyemi Ahearne Alvarado Amundsen Anghel Bakshi Baptiste Barragán Bergström Brannigan Byrne Castellano " +
  "Chaudhry Coombes Cusack Darwish Delacroix Dempsey Devereux Dlamini Domínguez Ekwueme Ellingsen Fahey Farrokhzad Fennelly " +
  "Ferreira Gallchobhair Gebreselassie Ghosh Gorecki Haddad Halloran Hashimoto Hennessy Ibarra Iwu Jankowski Jayasuriya Kaplan " +
  "Karimi Keating Kovalenko Kumalo Lachance Lindqvist Loughnane Mac-Giolla Mahlangu Marchetti Mbeki Mulcahy Nakagawa " +
  "Ndiaye Nevin Okafor Oyelaran Papadakis Petrović Quirke Raghunathan Rasmussen Reyes Sallinen Scanlon Sekibo Shaughnessy " +
  "Sørensen Tanaka Thibault Tierney Umarova Valdés Vasquez Walczak Weatherby Xu Yilmaz Zielinski"
).split(" ");

export const plainAscii = (name: string): string =>
  name
    .normalize("NFD")
    .replace(/\p{M}/gu, "")
    .replace(/ø/g, "o")
    .replace(/å/g, "a")
    .replace(/[^A-Za-z]/g, "")
    .toLowerCase();
