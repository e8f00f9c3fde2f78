<?php

declare(strict_types=1);

namespace Geschenk\App\Work\Import;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Bench\Looks;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\Customer;
use Geschenk\App\Entity\Import;
use Geschenk\App\Entity\Run;
use Geschenk\App\Files\Upload\Uploads;
use Geschenk\App\Records;
use Geschenk\App\Refusal;
use Geschenk\App\Runs\Asked;
use Geschenk\App\Runs\KindOfCustomer;
use Geschenk\App\Runs\Undone;
use Geschenk\App\Security\KeySafe;
use Geschenk\App\Tray\Intake\CarriedIn;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Archive\Workplace;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Import\Carried;
use Geschenk\Core\Import\Chosen;
use Geschenk\Core\Import\Importers;
use Geschenk\Core\Import\SeveralParts;
use Geschenk\Core\Messenger\App;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Messenger\BackupLock;
use Geschenk\Core\Messenger\ChatReading;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Progress;
use Geschenk\Core\Stick\StickHindrance;
use Geschenk\Core\Stick\Sticks;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Transfer\BackupMaker;
use Geschenk\Core\Transfer\Fetched;
use Geschenk\Core\Transfer\PullJournal;
use Geschenk\Core\UnusableInput;
use Psr\Clock\ClockInterface;

/** Makes a kept backup of what somebody carries in on a stick, or sends as a file. */
final readonly class ImportKind implements KindOfCustomer
{
    /** By which way the chats of such a backup came. */
    public const WAY = 'import';
    /** Of the bytes that come: the chats that are read out of them take some room too. */
    private const SPACE_FACTOR = 1.25;

    public function __construct(
        private EntityManagerInterface $entities,
        private Records $records,
        private Vault $vault,
        private BackupMaker $maker,
        private Importers $importers,
        private ChatReading $reading,
        private Formats $formats,
        private Sticks $sticks,
        private Uploads $uploads,
        private UnpackedArchives $archives,
        private KeySafe $keys,
        private CarriedIn $carriedIn,
        private ClockInterface $clock,
    ) {
    }

    public static function name(): string
    {
        return 'import';
    }

    public function ensureMayBegin(Customer $customer): void
    {
        !$customer->isForgotten() ?: throw Refusal::because('no_such_customer');
    }

    public function take(Run $run, Asked $asked): void
    {
        $wish = $asked->own;
        if (!$wish instanceof ImportWish) {
            // It goes on; what did not open it may be told anew, and which of several things is meant.
            null === $asked->key ?: $run->keepKey($this->keys->put($asked->key), $this->clock->now());
            if ($wish instanceof PartMeant) {
                $this->import($run)->means($wish->id) ?: throw Refusal::because('no_such_part');
            }

            return;
        }
        if (null !== $wish->upload && !$this->uploads->isFree($wish->upload)) {
            throw Refusal::because('upload_gone');
        }
        if (BackupLock::Open !== $wish->found->lock && null === $asked->key) {
            throw Refusal::because('import_needs_key');
        }
        $run->keepKey(null === $asked->key ? null : $this->keys->put($asked->key), $this->clock->now());
        $this->entities->persist(new Import(
            $run->id, $run->customer(), $wish->stick, mb_substr($wish->from, 0, 80), $wish->found->path,
            $wish->upload, mb_substr($wish->name, 0, 255), $wish->found->sort, $run->askedAt, $run->askedBy(),
        ));
    }

    public function ensurePossible(Run $run): void
    {
        $import = $this->import($run);
        '' === $import->stick || $this->vault->isKept($run->id) ?: $this->stick($import);
    }

    public function do(Run $run, Progress $progress): void
    {
        $import = $this->import($run);
        if (null === $import->backup()) {
            $this->make($import, $run, $progress);
            $this->keep($run);
        }
        $this->letGo($run);
    }

    public function undo(Run $run): Undone
    {
        if (null !== $this->import($run)->backup()) {
            return new Undone(isTooLate: true);
        }
        $removed = $this->vault->discard($run->id) + $this->archives->discard($run->id);
        $this->letGo($run);

        return new Undone($removed);
    }

    /** What lay here for it alone. */
    private function letGo(Run $run): void
    {
        $this->archives->discard($run->id);
        $upload = $this->import($run)->upload();
        if (null !== $upload) {
            $this->records->change(fn () => $this->import($run)->isLetGo());
            $this->uploads->discard($upload);
        }
    }

    private function make(Import $import, Run $run, Progress $progress): void
    {
        $key = $this->keys->take($run->lockedKey());
        $info = [
            'Bagging-Date' => $this->clock->now()->format('Y-m-d'), 'Bag-Software-Agent' => 'Geschenk',
            'External-Identifier' => $run->id, 'External-Description' => 'import, '.$import->sort,
        ];
        try {
            $this->maker->makeOf(fn (Workplace $place, PullJournal $journal): Fetched => $this->fetch(
                $import, $place, $journal, $progress, $key,
            ), $run->id, $info, $progress);
        } catch (SeveralParts $several) {
            $this->records->change(fn () => $this->import($run)->holds($several->parts()));
            throw $several;
        }
    }

    private function fetch(
        Import $import,
        Workplace $place,
        PullJournal $journal,
        Progress $progress,
        ?BackupKey $key,
    ): Fetched {
        [$root, $path, $sort] = $this->source($import);
        $chosen = new Chosen($import->chosen());
        if (Importers::ZIP === $sort) {
            $root = $this->archives->unpacked($import->id, $root, $path, $key, $progress);
            $meant = $this->archives->meant($root(), $chosen);
            [$path, $sort] = [$meant->id, $meant->sort];
        }
        $bytes = $this->importers->named($sort)?->bytes($root().('' === $path ? '' : '/'.$path)) ?? 0;
        $this->ensureSpace($bytes - $place->bytesThere());

        return $this->importers->fetch(
            new Carried($root, $path, $place, $journal, $this->reading, $progress, $key, $chosen), $sort,
        );
    }

    /** What was made is the customer's from now on. */
    private function keep(Run $run): void
    {
        $chats = $this->vault->open($run->id)->chats();
        $app = $this->app($chats);
        if (null === $app) {
            $messenger = $chats->source()->messenger;
            $this->vault->discard($run->id);
            throw UnusableInput::unknownMessenger($messenger);
        }
        $this->records->change(function () use ($run, $chats, $app): void {
            $import = $this->import($run);
            if (null !== $import->backup()) {
                return;
            }
            $summary = $chats->summary();
            $tray = $this->carriedIn->open($run->customer(), $run->askedBy(), [
                'edition' => $app->edition, 'messages' => $summary['messages'],
                'conversations' => $summary['conversations'], 'attachments' => $summary['attachments_present'],
                'absent' => $summary['attachments_missing'], 'lost' => $summary['lost'],
                'from' => '' === $import->from ? 'sent' : 'stick', 'stick' => $import->from,
            ]);
            $backup = new Backup(
                $run->id, $this->records->next(Backup::class), $tray, '', $app->id, $app->edition, self::WAY,
                $this->clock->now(), $chats->source()->account, $summary['conversations'], $summary['messages'],
                $summary['attachments'], $summary['attachments_missing'], $summary['attachment_bytes'],
                $chats->newestUpTo(Looks::soon()), $summary['lost'], lossUncounted: $chats->isLossUncounted(),
            );
            $this->entities->persist($backup);
            $import->isOf($backup);
        });
    }

    /** The official app whose chats they are: they are brought to that one. */
    private function app(ChatStore $chats): ?App
    {
        $source = $chats->source();
        $format = $this->formats->writing($source->messenger, $source->platform);
        $messenger = $format?->messenger();
        $edition = $messenger?->official($source->edition, [] !== $chats->labels() || [] !== $chats->cannedAnswers());
        foreach ($messenger->apps ?? [] as $app) {
            if ($app->edition === $edition) {
                return $app;
            }
        }

        return null;
    }

    /**
     * @return array{\Closure(): string, string, string} the folder that it lies in, its path there, what it is
     *
     * @throws Refusal when what was sent is gone
     */
    private function source(Import $import): array
    {
        $upload = $import->upload();
        if (null === $upload && '' === $import->stick) {
            throw Refusal::because('upload_gone');
        }
        if (null === $upload) {
            return [fn (): string => $this->stick($import), $import->path(), $import->sort];
        }
        $file = $this->uploads->file($upload) ?? throw Refusal::because('upload_gone');

        return [static fn (): string => dirname($file), basename($file), $import->sort];
    }

    /** @throws StickHindrance while it is out */
    private function stick(Import $import): string
    {
        return ($this->sticks->find($import->stick) ?? throw StickHindrance::gone($import->from))->folder();
    }

    private function import(Run $run): Import
    {
        return $this->entities->find(Import::class, $run->id)
            ?? throw new \LogicException('It is stored with its run.');
    }

    /** @param int $bytes that are still to come */
    private function ensureSpace(int $bytes): void
    {
        $free = $this->vault->freeBytes();
        $needed = (int) (self::SPACE_FACTOR * max(0, $bytes));
        if (null !== $free && $free < $needed) {
            throw DiskFull::lacks($needed);
        }
    }
}
