<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Entity\Backup;
use Geschenk\App\Entity\User;
use Geschenk\App\Files\MoveFiles;
use Geschenk\App\Http\Body\Uncovering;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Http\Time;
use Geschenk\App\Log\LogNames;
use Geschenk\App\Refusal;
use Geschenk\App\Shop;
use Geschenk\App\Uncover\Uncoverings;
use Geschenk\App\Uncover\What;
use Geschenk\App\View\MessageView;
use Geschenk\Core\Store\ChatStore;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\HttpKernel\Attribute\MapRequestPayload;
use Symfony\Component\HttpKernel\Exception\NotFoundHttpException;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Core\Exception\AccessDeniedException;
use Symfony\Component\Security\Http\Attribute\CurrentUser;

/** Looking into a backup. Texts stay covered until somebody uncovers a conversation, which is logged. */
#[Route('/api/trays/{number<\d{1,9}>}/moves/{place<\d{1,3}>}')]
final readonly class ChatController
{
    private const PAGE = 500;

    public function __construct(
        private Trays $trays,
        private MoveFiles $files,
        private Uncoverings $uncoverings,
        private LogNames $names,
    ) {
    }

    #[Route('/conversations', methods: ['GET'])]
    public function conversations(int $number, int $place): JsonResponse
    {
        $backup = $this->trays->backup($number, $place);
        $chats = $this->chats($backup);
        $rows = array_map(static fn (array $row): array => [
            ...array_diff_key($row, ['key' => 1]), 'first_at' => Time::ofMilliseconds($row['first_at']),
            'last_at' => Time::ofMilliseconds($row['last_at']), 'title' => null === $row['title']
                ? null
                : mb_scrub($row['title']), 'labels' => array_map(mb_scrub(...), $row['labels']),
        ], $chats->overview());
        $summary = $chats->summary();

        return new JsonAnswer(
            [
                'conversations' => $rows, 'messages_by_kind' => (object) $summary['messages_by_kind'],
                'findings' => array_map(
                    static fn (array $f): array => [
                        'code' => $f['code'], 'subject' => $f['subject'], 'count' => $f['count'],
                    ],
                    $chats->findings(),
                ),
            ],
        );
    }

    #[Route('/conversations/{id<\d{1,12}>}/messages', methods: ['GET'])]
    public function messages(
        int $number,
        int $place,
        int $id,
        Request $request,
        #[CurrentUser] User $user,
    ): JsonResponse {
        $backup = $this->trays->backup($number, $place);
        $chats = $this->chats($backup);
        $chats->hasConversation($id) ?: throw new NotFoundHttpException('no_such_conversation');
        $from = max(1, $request->query->getInt('from', 1));
        $limit = max(1, min(self::PAGE, $request->query->getInt('limit', 100)));
        // Covered unless it is asked for otherwise: what was left uncovered is covered when somebody comes back.
        $isUncovered = $request->query->getBoolean('uncovered')
            && $this->uncoverings->holds($request->getSession(), $user, What::conversation($backup, $id));
        $view = new MessageView($chats, $isUncovered);
        $messages = [];
        foreach ($chats->glimpses($id, $from, $limit) as $stored) {
            $messages[] = $view->of($id, $stored);
        }

        return new JsonAnswer(
            ['total' => $chats->messageCount($id), 'covered' => !$isUncovered, 'messages' => $messages],
        );
    }

    /** Where in a conversation a day of the shop begins. */
    #[Route('/conversations/{id<\d{1,12}>}/place', methods: ['GET'])]
    public function place(int $number, int $place, int $id, Request $request): JsonResponse
    {
        $day = Shop::day($request->query->getString('day')) ?? throw Refusal::because('no_day');

        return new JsonAnswer(
            ['place' => $this->chats($this->trays->backup($number, $place))->placeAt($id, $day->getTimestamp() * 1000)],
        );
    }

    #[Route('/conversations/{id<\d{1,12}>}/uncovered', methods: ['PUT'])]
    public function uncover(
        int $number,
        int $place,
        int $id,
        Request $request,
        #[CurrentUser] User $user,
        #[MapRequestPayload('json')] ?Uncovering $asked = null,
    ): JsonResponse {
        $backup = $this->trays->backup($number, $place);
        $this->chats($backup)->messageCount($id) > 0 ?: throw new NotFoundHttpException('no_such_conversation');
        $reason = mb_scrub(trim($asked->reason ?? ''));
        $isClosed = null !== $this->trays->get($number)->closedAt();
        if ($isClosed && User::MANAGER !== $user->role()) {
            throw new AccessDeniedException();
        }
        if ($isClosed && '' === $reason) {
            throw Refusal::because('reason_needed');
        }
        $lease = $this->uncoverings->begin(
            $request->getSession(), $user, What::conversation($backup, $id),
            $isClosed ? 'uncovered_closed' : 'uncovered', 'covered',
            $this->told($number, $backup, $id) + ($isClosed ? ['reason' => $reason] : []),
        );

        return new JsonAnswer(['covered' => false, 'lease' => $lease]);
    }

    #[Route('/conversations/{id<\d{1,12}>}/uncovered', methods: ['DELETE'])]
    public function cover(int $number, int $place, int $id, Request $request, #[CurrentUser] User $user): JsonResponse
    {
        $backup = $this->trays->backup($number, $place);
        $this->uncoverings->cover($request->getSession(), $user, What::conversation($backup, $id));

        return new JsonAnswer(['covered' => true, 'lease' => null]);
    }

    /** The small picture of an attachment, while its conversation is uncovered. */
    #[Route('/conversations/{id<\d{1,12}>}/previews/{message<\d{1,12}>}', methods: ['GET'])]
    public function preview(
        int $number,
        int $place,
        int $id,
        int $message,
        Request $request,
        #[CurrentUser] User $user,
    ): Response {
        $backup = $this->trays->backup($number, $place);
        $session = $request->getSession();
        if (!$this->uncoverings->holds($session, $user, What::conversation($backup, $id))
            && !$this->uncoverings->holds($session, $user, What::all($backup))) {
            throw new NotFoundHttpException('covered');
        }
        $preview = $this->chats($backup)->previewIn($id, $message);
        if (null === $preview || !str_starts_with($preview, "\xFF\xD8\xFF")) {
            throw new NotFoundHttpException('no_preview');
        }

        return new Response($preview, 200, ['Content-Type' => 'image/jpeg']);
    }

    /** @return array<string, string> what the log says of it */
    private function told(int $number, Backup $backup, int $id): array
    {
        $title = mb_substr(mb_scrub($this->chats($backup)->titleOf($id)), 0, 200);

        return [
            'edition' => $backup->edition, 'serial' => $backup->serial,
            LogNames::PARAM => $this->names->keep($number, $title),
        ];
    }

    private function chats(Backup $backup): ChatStore
    {
        return $this->files->chats($backup);
    }
}
