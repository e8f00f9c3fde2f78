<?php

declare(strict_types=1);

namespace Geschenk\App\ReadingCopy;

use Geschenk\App\Entity\ReadingCopy;
use Geschenk\App\Shop;
use Geschenk\App\Words\Words;
use Geschenk\Core\Archive\OpenBackup;
use Geschenk\Core\Conversion\FileGroup;
use Geschenk\Core\Files\Durable\DiskFailure;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Progress;
use Geschenk\Core\ReadingCopy\CopyFolder;
use Geschenk\Core\ReadingCopy\Extract;
use Geschenk\Core\ReadingCopy\FilePlaces;
use Geschenk\Core\UnusableInput;
use Symfony\Component\DependencyInjection\Attribute\AutowireIterator;

/**
 * Makes a copy for reading in a folder: the attachments, the forms that were asked for, and the sums of all of it.
 *
 * @phpstan-import-type Made from ReadingCopy
 */
final readonly class CopyMaker
{
    /** @param iterable<Form> $forms */
    public function __construct(#[AutowireIterator(Form::class)] private iterable $forms, private Words $words)
    {
    }

    /** @return list<string> names of the forms that can be made here */
    public function names(): array
    {
        $names = [];
        foreach ($this->forms as $form) {
            if (!$form instanceof NeedsProgram || $form->isThere()) {
                $names[] = $form::name();
            }
        }

        return $names;
    }

    /**
     * @param list<string>                                  $names of forms
     * @param array{messages: int, files: int, bytes: int, ...} $sums
     *
     * @return int bytes that it takes, about; the files are exact
     */
    public function bytes(array $names, array $sums): int
    {
        $bytes = 0;
        foreach ($this->chosen($names) as $form) {
            $bytes += $form::bytes($sums['messages'], $sums['files']);
        }

        return $bytes + ($this->usesFiles($names) ? $sums['bytes'] : 0);
    }

    /** @param list<string> $names of forms */
    public function usesFiles(array $names): bool
    {
        foreach ($this->chosen($names) as $form) {
            if ($form::usesFiles()) {
                return true;
            }
        }

        return false;
    }

    /**
     * @return Made the hash is of the list of sums
     *
     * @throws UnusableInput where its chats can't be read
     * @throws DiskFull
     * @throws DiskFailure
     */
    public function make(ReadingCopy $copy, OpenBackup $backup, string $folder, Progress $progress): array
    {
        $chats = $backup->chats();
        $extract = new Extract($chats, $backup->files(), $copy->selected());
        $sums = $extract->sums();
        $of = new CopyContext(
            $extract, $this->places($copy->language),
            new CopyFolder(
                $folder, $copy->backup->takenAt->getTimestamp(),
                static fn (int $bytes) => $progress->advance(0, $bytes),
            ),
            new Told($chats, $this->words, $copy->language), $copy->language, [
                'backup' => $copy->backup->id, 'fingerprint' => $backup->fingerprint(),
                'edition' => $copy->backup->edition,
                'account' => $copy->backup->account, 'taken_at' => $copy->backup->takenAt,
                'customer' => $copy->backup->customer->name(),
            ],
        );
        if ($this->usesFiles($copy->forms)) {
            $progress->phase('copy_files', $sums['files'], $sums['bytes']);
            $this->attach($of, $progress);
        }
        $chosen = $this->chosen($copy->forms);
        $progress->phase('copy_writing', $sums['messages'] * count($chosen));
        foreach ($chosen as $form) {
            $form->write($of, $progress);
        }
        $this->listSpoilt($of);
        $progress->phase('copy_sums', 0, $sums['bytes']);

        $parts = $of->printed->parts();

        return $of->folder->sum() + ['spoilt' => $of->spoilt->count()] + ([] === $parts ? [] : [
            'paper' => ['fingerprint' => $of->of['fingerprint'], 'parts' => $parts],
        ]);
    }

    public function places(string $language): FilePlaces
    {
        $folders = [FilePlaces::OTHERS => $this->words->say('copy_folder.others', [], $language)];
        foreach (FileGroup::cases() as $group) {
            $folders[$group->value] = $this->words->say('copy_folder.'.$group->value, [], $language);
        }

        return new FilePlaces($folders, new \DateTimeZone(Shop::ZONE));
    }

    private function attach(CopyContext $of, Progress $progress): void
    {
        foreach ($of->extract->conversations() as $conversation) {
            foreach ($of->extract->messages($conversation->id) as $message) {
                foreach ($message->message->attachments as $place => $attachment) {
                    $path = $of->places->of($message, $place);
                    if (null === $path) {
                        continue;
                    }
                    try {
                        $of->folder->attach($of->extract->files, $attachment, $path, $message->message->sentAt);
                    } catch (UnusableInput) {
                        $of->spoilt->note($path);
                    }
                    $progress->advance(1);
                }
            }
        }
    }

    private function listSpoilt(CopyContext $of): void
    {
        if ($of->spoilt->count() > 0) {
            $of->folder->put(
                $of->told->say('copy.spoilt_list').'.txt',
                $of->told->say('copy.spoilt_told', ['count' => $of->spoilt->count()])."\n\n"
                    .implode("\n", $of->spoilt->paths())."\n",
            );
        }
    }

    /**
     * @param list<string> $names
     *
     * @return list<Form>
     */
    private function chosen(array $names): array
    {
        $chosen = [];
        foreach ($this->forms as $form) {
            if (in_array($form::name(), $names, true)) {
                $chosen[] = $form;
            }
        }

        return $chosen;
    }
}
