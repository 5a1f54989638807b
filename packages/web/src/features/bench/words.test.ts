import { tagsText } from './tags-text.ts';
import { WARNING_HELP } from './warning-help.ts';

describe('what helps', () => {
  it('is said for every warning there is, in a sentence', () => {
    for (const text of Object.values(WARNING_HELP)) expect(text).toMatch(/^[A-Z].{30,}\.$/);
    expect(new Set(Object.values(WARNING_HELP)).size).toBe(Object.keys(WARNING_HELP).length);
  });
});

describe('what a file says of itself', () => {
  it('is nothing where it says nothing', () => {
    expect(tagsText({})).toBe('');
  });

  it('stands in one line, each part with its separator', () => {
    const text = tagsText({
      track: 3,
      title: 'Nine bells',
      artist: 'Ada Ferrow',
      timeReferenceSeconds: 3723.5,
      take: '2',
    });
    expect(text).toBe(
      'track 3 \u00b7 \u201cNine bells\u201d \u00b7 Ada Ferrow \u00b7 begins at 1:02:03.50 \u00b7 take 2 \u00b7 ',
    );
  });

  it('begins at midnight where the time of day is 0', () => {
    expect(tagsText({ timeReferenceSeconds: 0 })).toBe('begins at 0:00.00 \u00b7 ');
  });
});
