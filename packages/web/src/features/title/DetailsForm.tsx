import { Group, NumberInput, SimpleGrid, Stack, Textarea, TextInput } from '@mantine/core';
import { schemaResolver, useForm } from '@mantine/form';
import { type Title, type TitleDetails, titleDetails } from '@tonos/contract';
import * as z from 'zod';
import { api } from '../../api/api.ts';
import { reasonOf } from '../../api/reason-of.ts';
import { FormActs } from '../../ui/FormActs.tsx';

const schema = z.object({ name: z.string().trim().min(1, 'A title needs a name.').max(200), details: titleDetails });

/** What a title is called and says of itself; deliveries that are rendered from now on carry it. */
export function DetailsForm({ title, onDone }: { title: Title; onDone(): void }) {
  const [change, { isLoading, error }] = api.useChangeTitleMutation();
  const form = useForm({
    // the form writes into what it is given
    initialValues: { name: title.name, details: { ...title.details } },
    validate: schemaResolver(schema, { sync: true }),
    validateInputOnBlur: true,
  });
  const field = (name: string) => ({ key: form.key(name), ...form.getInputProps(name) });
  const save = async (values: typeof form.values) => {
    const { name, details } = schema.parse(values);
    // only what was edited here: what a colleague writes meanwhile stays
    const first = form.getInitialValues();
    const edited = Object.entries(details).filter(([key, value]) => value !== first.details[key as keyof TitleDetails]);
    const { data } = await change({
      id: title.id,
      ...(name === first.name ? {} : { name }),
      details: Object.fromEntries(edited),
    });
    if (data) onDone();
  };
  return (
    <form onSubmit={form.onSubmit((values) => void save(values))}>
      <Stack>
        <TextInput label="Name" data-autofocus required {...field('name')} />
        <SimpleGrid cols={2}>
          <TextInput label="Authors" {...field('details.authors')} />
          <TextInput label={title.kind === 'podcast' ? 'Hosts' : 'Narrators'} {...field('details.voices')} />
          <TextInput label="Series" {...field('details.series')} />
          <TextInput label="Number in the series" {...field('details.number')} />
          <TextInput label="Publisher" {...field('details.publisher')} />
          <Group grow align="start">
            <NumberInput
              label="Year"
              hideControls
              allowDecimal={false}
              thousandSeparator=""
              {...field('details.year')}
              value={form.values.details.year ?? ''}
              onChange={(value) => form.setFieldValue('details.year', value === '' ? null : Number(value))}
            />
            <TextInput label="Language" placeholder="en" {...field('details.language')} />
          </Group>
        </SimpleGrid>
        <Textarea label="Description" autosize minRows={2} maxRows={8} {...field('details.description')} />
        <TextInput label="Copyright" {...field('details.copyright')} />
        <p className="small quiet">
          Deliveries that are rendered from now on carry all of this in their tags, and reports name it.
        </p>
        {error && (
          <p className="verdict-over small" role="alert">
            {reasonOf(error)}
          </p>
        )}
        <FormActs act="Save" isBusy={isLoading} onCancel={onDone} />
      </Stack>
    </form>
  );
}
