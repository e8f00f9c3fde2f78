<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion;

use Geschenk\Core\Arrival\Comparison;
use Geschenk\Core\Arrival\Result;
use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Files\Content\FolderContents;
use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Files\Content\LentFiles;
use Geschenk\Core\Files\Content\Manifest;
use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Merge\Held;
use Geschenk\Core\Merge\MergeReport;
use Geschenk\Core\Merge\Strangers;
use Geschenk\Core\Merge\Union;
use Geschenk\Core\Merge\UnitedFiles;
use Geschenk\Core\Messenger\ChatReading;
use Geschenk\Core\Messenger\Format;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Messenger\Writer;
use Geschenk\Core\Platform;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\UnusableInput;

/**
 * The heart of the job: plan what should arrive, write it in the receiving format, read that back with the format's own
 * reader, compare. No phone is touched. Each step leaves its file in the folder of the conversion.
 */
final readonly class Conversion
{
    /** What should arrive: a chat store. */
    public const EXPECTED = 'expected.sqlite';
    /** Of a merge: what is meant to arrive of the backup, and what the phone keeps; both before they are united. */
    private const BROUGHT = 'brought.sqlite';
    private const THERE = 'there.sqlite';
    private const UNITED = 'united.sqlite';
    /** The app's data as it is to lie on the phone. */
    public const DATA = 'data';
    /** Every file of it: nothing else may reach a phone. */
    public const MANIFEST = 'manifest.txt';
    /** What was read back, as long as it is needed. */
    private const READ_BACK = 'read-back.sqlite';
    /** How that compared. */
    public const REHEARSAL = 'rehearsal.sqlite';

    private Format $format;
    private Writer $writer;

    /**
     * @param string    $folder where its files go
     * @param Held|null $there  what the receiving phone holds, to merge with; null to take its place
     *
     * @throws UnusableInput when nothing writes this messenger for that platform
     */
    public function __construct(
        Formats $formats,
        private ChatReading $reading,
        private ChatStore $chats,
        private AttachmentFiles $files,
        private string $folder,
        Platform $platform,
        private ?Held $there = null,
    ) {
        $messenger = $chats->source()->messenger;
        $format = $formats->writing($messenger, $platform);
        $writer = $format?->writer();
        if (null === $format || null === $writer) {
            throw UnusableInput::noWriter($messenger, $platform);
        }
        $this->format = $format;
        $this->writer = $writer;
    }

    /**
     * All four steps. What an attempt before has written of the data is gone on with; the rest is made anew.
     *
     * @param int                   $moment  when lifetimes are judged, milliseconds since 1970 UTC
     * @param array<string, string> $choices by rule
     * @param Scope                 $scope   what somebody chose to leave behind
     *
     * @throws UnknownChoice
     * @throws UnusableInput
     */
    public function run(int $moment, array $choices, Progress $progress, Scope $scope = new Scope()): Converted
    {
        $this->dropLeftovers();
        $losses = $this->plan($moment, $choices, $progress, $scope);
        $merge = $this->merge($moment, $choices, $progress);
        $this->write($progress);
        $manifest = $this->list($progress);
        $this->readBack($progress);
        $rehearsal = $this->compare($progress);
        Folder::remove($this->folder.'/'.self::READ_BACK);
        if ($manifest->digest !== $this->list($progress)->digest) {
            throw ConversionDisturbed::meanwhile();
        }

        $accounted = $rehearsal->totals()->messages;
        if ($accounted !== $this->chats->messageCount()) {
            throw new \LogicException(sprintf(
                '%d messages are accounted for, and the backup has %d.', $accounted, $this->chats->messageCount(),
            ));
        }
        $settled = null === $merge ? null : $this->settled();
        if (null !== $settled) {
            $losses[] = $settled;
        }

        return new Converted(
            $losses, $rehearsal->totals(), $this->chats->summary()['attachments_missing'], $manifest->bytes,
            $merge,
        );
    }

    /**
     * @param array<string, string> $choices
     *
     * @return list<Loss>
     *
     * @throws UnknownChoice
     */
    public function plan(int $moment, array $choices, Progress $progress, Scope $scope = new Scope()): array
    {
        $expectation = Expectation::of($this->format->capabilities(), $moment, $choices, $scope);

        $path = $this->folder.'/'.(null === $this->there ? self::EXPECTED : self::BROUGHT);

        return $expectation->build($this->chats, $path, $progress);
    }

    /**
     * Unites what is brought with what the receiving phone holds; null where it takes its place.
     *
     * @param array<string, string> $choices
     *
     * @throws UnknownChoice
     * @throws UnusableInput when the phone holds the chats of another account
     */
    private function merge(int $moment, array $choices, Progress $progress): ?MergeReport
    {
        $report = $usedLast = null;
        $brought = $this->folder.'/'.self::BROUGHT;
        [$there, $united] = [$this->folder.'/'.self::THERE, $this->folder.'/'.self::UNITED];
        foreach ($this->there?->all() ?? [] as $held) {
            // What is there may be of an older generation, or of an unofficial version: the same rules hold for it.
            Expectation::of($this->format->capabilities(), $moment, $choices)->build(
                $held->chats, $there, $progress,
            );
            $planned = new ChatStore($there);
            $strangers = Strangers::tellApart($brought, $planned);
            $chats = new ChatStore($brought);
            $report = (new Union($chats, $planned, $held->isRepair))->build($united, $progress);
            // Whose settings count was decided when the phone was merged with first.
            $usedLast ??= $report->usedLast;
            $report = $report->with($usedLast, $strangers);
            $chats->close();
            $planned->close();
            Folder::remove($there);
            Folder::remove($brought);
            Disk::move($united, $brought);
        }
        if (null !== $report) {
            Disk::move($brought, $this->folder.'/'.self::EXPECTED);
        }

        return $report;
    }

    /** That a message arrives in a later state than it had is listed like a loss; null where none does. */
    private function settled(): ?Loss
    {
        $choice = new Choice('later_state', Outcome::Changed);
        $touched = $this->expected()->touchedBy(Union::RULE);

        return 0 === $touched['messages'] + $touched['conversations'] ? null : new Loss(
            Union::RULE, $choice, [$choice], $touched['messages'], $touched['conversations'], null, null, null,
        );
    }

    public function write(Progress $progress): void
    {
        $files = array_reduce(
            $this->there?->all() ?? [],
            static fn (AttachmentFiles $brought, Held $held): AttachmentFiles => new UnitedFiles(
                $brought, $held->files,
            ), $this->files,
        );
        $lent = new LentFiles($files);
        try {
            $this->writer->write($this->expected(), $lent, $this->folder.'/'.self::DATA, $progress);
        } finally {
            $lent->giveBack();
        }
    }

    public function readBack(Progress $progress): void
    {
        $data = $this->folder.'/'.self::DATA;
        $store = $this->folder.'/'.self::READ_BACK;
        $this->reading->read($data, new FolderFiles($data), $store, $progress, '@converted');
    }

    public function compare(Progress $progress): Result
    {
        $found = new ChatStore($this->folder.'/'.self::READ_BACK);

        return (new Comparison($this->expected(), $found))->run($this->folder.'/'.self::REHEARSAL, $progress);
    }

    public function expected(): ChatStore
    {
        return new ChatStore($this->folder.'/'.self::EXPECTED);
    }

    private function list(Progress $progress): Manifest
    {
        return Manifest::make(
            new FolderContents($this->folder.'/'.self::DATA),
            $this->folder.'/'.self::MANIFEST,
            static fn (int $bytes) => $progress->advance(0),
        );
    }

    private function dropLeftovers(): void
    {
        $leftovers = [
            self::EXPECTED, self::EXPECTED.'.plan', self::EXPECTED.'.part', self::BROUGHT, self::BROUGHT.'.plan',
            self::BROUGHT.'.part', self::THERE, self::THERE.'.plan', self::UNITED, self::UNITED.'.part', self::MANIFEST,
            self::READ_BACK, self::REHEARSAL,
        ];
        foreach ($leftovers as $leftover) {
            Folder::remove($this->folder.'/'.$leftover);
        }
    }
}
