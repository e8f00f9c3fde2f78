<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Customer\KeptBackups;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\ReadingCopy;
use Geschenk\App\Entity\Run;
use Geschenk\App\Entity\User;
use Geschenk\App\Http\Body\CodeTold;
use Geschenk\App\Http\Body\CopyAsked;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Log\ShopLog;
use Geschenk\App\ReadingCopy\CopyMaker;
use Geschenk\App\ReadingCopy\Packings;
use Geschenk\App\ReadingCopy\PaperCodes;
use Geschenk\App\ReadingCopy\Told;
use Geschenk\App\Refusal;
use Geschenk\App\Runs\Asked;
use Geschenk\App\Shop;
use Geschenk\App\View\ReadingCopyView;
use Geschenk\App\Words\Language;
use Geschenk\App\Words\Words;
use Geschenk\App\Work\KeepingDesk;
use Geschenk\App\Work\ReadingCopy\CopyWish;
use Geschenk\App\Work\ReadingCopy\ReadingCopyKind;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Conversion\FileGroup;
use Geschenk\Core\ReadingCopy\Extract;
use Geschenk\Core\ReadingCopy\Packing\Packing;
use Geschenk\Core\ReadingCopy\Selected;
use Geschenk\Core\Stick\Stick;
use Geschenk\Core\Stick\Sticks;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpKernel\Attribute\MapRequestPayload;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Core\Exception\AccessDeniedException;
use Symfony\Component\Security\Http\Attribute\CurrentUser;

/** Copies of a kept backup that are taken home to read. */
#[Route('/api/backups/{backup}/copies')]
final readonly class ReadingCopyController
{
    public function __construct(
        private Trays $trays,
        private EntityManagerInterface $entities,
        private Sticks $sticks,
        private CopyMaker $maker,
        private Packings $packings,
        private PaperCodes $codes,
        private Words $words,
        private Vault $vault,
        private KeptBackups $kept,
        private KeepingDesk $desk,
        private ReadingCopyView $view,
        private ShopLog $log,
    ) {
    }

    #[Route('', methods: ['GET'])]
    public function show(string $backup, #[CurrentUser] User $user): JsonResponse
    {
        return new JsonAnswer($this->whole($this->trays->backup($backup), $user));
    }

    /** How much it is, before anything is made. */
    #[Route('/sum', methods: ['POST'])]
    public function sum(string $backup, #[MapRequestPayload('json')] CopyAsked $asked): JsonResponse
    {
        $open = $this->vault->open($this->trays->backup($backup)->id);
        $chats = $open->chats();
        $sums = (new Extract($chats, $open->files(), $this->selected($asked, $chats->keys())))->sums();

        return new JsonAnswer([
            'conversations' => $sums['conversations'], 'messages' => $sums['messages'], 'files' => $sums['files'],
            'bytes' => $this->maker->bytes(self::texts($asked->forms), $sums),
        ]);
    }

    #[Route('', methods: ['POST'])]
    public function take(
        string $backup,
        #[MapRequestPayload('json')] #[\SensitiveParameter] CopyAsked $asked,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $of = $this->trays->backup($backup);
        $reason = mb_scrub(trim($asked->reason ?? ''));
        // What is said behind the hand-over is uncovered by the manager alone, who says why: on a stick as on a page.
        $isClosed = $this->kept->isAtRest($of);
        if ($isClosed && User::MANAGER !== $user->role()) {
            throw new AccessDeniedException();
        }
        if ($isClosed && '' === $reason) {
            throw Refusal::because('reason_needed');
        }
        $wish = new CopyWish(
            $this->selected($asked, $this->vault->open($of->id)->chats()->keys()), self::texts($asked->forms),
            $asked->packing, $asked->stick,
            in_array($asked->language, Language::ALL, true) ? $asked->language : $of->customer->language(),
        );
        if ($isClosed) {
            $this->log->note($user->getUserIdentifier(), 'reading_copy_why', $of->tray->number, [
                'edition' => $of->edition, 'reason' => $reason,
            ]);
        }
        $this->desk->askOfBackup(
            $of->id, ReadingCopyKind::name(), $user->getUserIdentifier(), new Asked(key: $asked->password, own: $wish),
        );

        return new JsonAnswer($this->whole($of, $user), 202);
    }

    /** Whether a page that somebody brings is of a copy that was taken of this backup, kept or erased since. */
    #[Route('/code', methods: ['POST'])]
    public function code(
        string $backup,
        #[MapRequestPayload('json')] CodeTold $told,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $of = $this->trays->onRecord($backup);
        $found = $this->codes->find(
            $this->entities->getRepository(ReadingCopy::class)->findBy(['backup' => $of], ['askedAt' => 'ASC']),
            $told->code,
        );
        $this->log->note($user->getUserIdentifier(), 'page_compared', $of->tray->number, [
            'edition' => $of->edition, 'is' => null === $found ? 'other' : 'same',
        ]);

        return new JsonAnswer([
            'same' => null !== $found, 'sha256' => $found['fingerprint'] ?? null,
            'text' => null === $found ? $this->words->say('paper_code.of_none') : $this->words->say('paper_code.is', [
                'messages' => $found['part']['messages'], 'first' => $this->day($found['part']['first']),
                'last' => $this->day($found['part']['last']), 'by' => $this->words->who($found['copy']->askedBy),
                'taken_at' => ($found['copy']->madeAt() ?? $found['copy']->askedAt)->getTimestamp(),
            ]),
        ]);
    }

    private function day(int $milliseconds): string
    {
        return $this->words->day(Told::moment($milliseconds));
    }

    /** @return array<string, mixed> */
    private function whole(Backup $backup, User $user): array
    {
        $isClosed = $this->kept->isAtRest($backup);
        $copies = $this->entities->getRepository(ReadingCopy::class)
            ->findBy(['backup' => $backup], ['askedAt' => 'DESC', 'id' => 'DESC']);

        return [
            'edition' => $backup->edition, 'customer' => $backup->customer->name(),
            'language' => $backup->customer->language(), 'forms' => $this->maker->names(),
            'packings' => array_map(static fn (Packing $packing): array => [
                'name' => $packing::name(), 'can_lock' => $packing->canLock(),
            ], $this->packings->all()),
            'sticks' => array_map(static fn (Stick $stick): array => [
                'id' => $stick->id(), 'label' => $stick->label(), 'free_bytes' => $stick->freeBytes(),
            ], $this->sticks->there()),
            'needs_reason' => $isClosed, 'needs_manager' => $isClosed && User::MANAGER !== $user->role(),
            'copies' => array_map(fn (ReadingCopy $copy): array => $this->view->of(
                $copy, $this->entities->find(Run::class, $copy->id),
            ), $copies),
        ];
    }

    /** @param iterable<int, string> $keys of the conversations, by their ids */
    private function selected(CopyAsked $asked, iterable $keys): Selected
    {
        $conversations = null;
        if (null !== $asked->conversations) {
            $wanted = array_flip(array_filter($asked->conversations, is_int(...)));
            $conversations = [];
            foreach ($keys as $id => $key) {
                if (isset($wanted[$id])) {
                    $conversations[] = $key;
                }
            }
        }
        try {
            $groups = null === $asked->groups ? null : array_map(FileGroup::from(...), self::texts($asked->groups));
        } catch (\ValueError) {
            throw Refusal::because('no_such_group');
        }

        return new Selected(
            $conversations, self::begin($asked->from), self::begin($asked->to, '+1 day'), $groups, $asked->text,
        );
    }

    /** @return int|null milliseconds since 1970 UTC at which a day begins */
    private static function begin(?string $day, string $later = '+0 days'): ?int
    {
        if (null === $day || '' === $day) {
            return null;
        }
        $begin = Shop::day($day) ?? throw Refusal::because('no_day');

        return 1000 * $begin->modify($later)->getTimestamp();
    }

    /**
     * @param array<mixed> $list
     *
     * @return list<string>
     */
    private static function texts(array $list): array
    {
        return array_values(array_filter($list, is_string(...)));
    }
}
