/** The demo's texts. Written for Tonos; everything and everybody in them is made up. */

export const SALT_ROAD = {
  'The salt road': [
    'The salt road begins behind the last house in Merrow, where the gate has no latch.',
    'Nobody keeps it, and nobody has ever needed to.',
    'My grandmother walked it with eleven mules, and she counted the stones aloud so that they would not move.',
    'I have her count in a blue book.',
  ],
  'A measure of light': [
    'A measure of light is what a lamp gives while one candle burns.',
    'In the third week of frost we sold forty measures, and the harbour bought thirty.',
    'The rest we kept for the crossing, wrapped in wool.',
    'You could hear the glass tick as it cooled.',
  ],
  'The weighing house': [
    'At the weighing house they asked for two things, your name and your heaviest bag.',
    'The clerk had a ledger as wide as a door.',
    'He wrote slowly, and he never looked at the scale.',
    'When I asked him why, he said that the scale was only there to keep people honest.',
  ],
  'Two lanterns': [
    'Two lanterns meant that the ford was safe. One meant wait.',
    'That night there were three, and none of us had ever been told what three meant.',
    'So we sat down in the rain, and argued until morning.',
  ],
  'What the tide keeps': [
    'What the tide keeps, it keeps politely.',
    'A boot, a bell rope, half of a letter that began with the word although.',
    'We laid them out on the wall to dry, and gave each one a number.',
    'In spring the owners came, and asked for different things.',
  ],
  'Nine bells': [
    'There are nine bells in the tower at Oster, and eight of them have names.',
    'The ninth is rung only for salt.',
    'When it sounded, the bakers came out first, with flour up to their elbows, and looked at the road.',
  ],
} as const;

export const NIGHT_SHIFT = {
  'Cold open': [
    'It is ten minutes past two, and the dome is open.',
    'You are listening to Night Shift at the Observatory, the programme for people who are awake for no good reason.',
    'Tonight we count faint things, and we make bad tea.',
  ],
  'The guest': [
    'People think that we look through the telescope. We do not.',
    'We look at a column of numbers, and we drink something warm, and we wait for a number that is wrong.',
    'That is the whole job.',
  ],
  'On the roof': [
    'I am outside now, on the north side, and there is a little wind.',
    'You can see the village from here. Four lights, and one of them is ours.',
    'The frost has reached the railing.',
  ],
  'A call from the valley': [
    'Hello, yes, I am calling about the green light.',
    'It was over the mill at about one, and it did not blink.',
    'My neighbour says that it was a drone, but my neighbour says that about everything.',
    'I have written down the time, and I can wait.',
  ],
  'Two at the desk': [
    'So what do you write down when nothing happens?',
    'I write nothing happened, and the time.',
    'Every night?',
    'Every night. In eleven years I have filled nine books with it.',
  ],
} as const;

export const FERRY_HOUSE = {
  'The talk': [
    'So this is the room where people waited when the river was too high.',
    'It is. Some of them waited for a week, and one of them never left.',
    'What did she do here all that time?',
    'She painted the timetable on the wall, again and again, until it was right.',
    'And then the ferry stopped running.',
    'Yes. But the timetable is still right.',
  ],
  'Read again': [
    'So this is the room where people waited when the river was too high.',
    'And then, one spring, the ferry stopped running.',
  ],
} as const;

export const CREDITS = {
  'Opening credits': ['The Salt Road Almanac.', 'Written by Ilse Varnholt.', 'Read by Maren Tolk.'],
  'End credits': ['This was The Salt Road Almanac.', 'It was made by Lantern and Weir.', 'All of it is invented.'],
} as const;
